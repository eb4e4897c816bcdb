# What every target of the project is built with; nothing is set for anybody else's.
function(kiai_target target)
    target_compile_features(${target} PUBLIC cxx_std_20)
    target_include_directories(${target} PUBLIC $<BUILD_INTERFACE:${PROJECT_SOURCE_DIR}/include>
        $<BUILD_INTERFACE:${PROJECT_BINARY_DIR}/include> PRIVATE ${PROJECT_SOURCE_DIR}/src)
    set_target_properties(${target} PROPERTIES CXX_EXTENSIONS OFF POSITION_INDEPENDENT_CODE ON)
    target_compile_options(${target} PRIVATE -Wall -Wextra -Wconversion -Wshadow $<$<BOOL:${KIAI_WERROR}>:-Werror>
        -ffp-contract=off) # the same bits from every build: a fused multiply-add only where a kernel asks for it
    # A parent project without a build type still gets a fast engine.
    target_compile_options(${target} PRIVATE $<$<CONFIG:>:-O2>)
    if(CMAKE_CXX_COMPILER_ID STREQUAL GNU AND CMAKE_CXX_COMPILER_VERSION VERSION_LESS 13)
        target_compile_options(${target} PRIVATE -Wno-restrict -Wno-stringop-overflow) # of "x" + string (its bug 105651)
    endif()
endfunction()

# The headers that a batch includes are read once.
function(kiai_unity target)
    if(KIAI_UNITY)
        set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE 12)
    endif()
endfunction()

# Lets a target include headers that need no library. A build for another system gets a folder of links to them, without
# the other headers of this system.
function(kiai_header target header)
    string(REGEX MATCH "^[^/.]+" name ${header})
    find_path(KIAI_${name}_INCLUDE ${header} PATHS /usr/include REQUIRED NO_CMAKE_FIND_ROOT_PATH)
    set(folder ${KIAI_${name}_INCLUDE})
    if(CMAKE_CROSSCOMPILING)
        string(REGEX MATCH "^[^/]+" first ${header})
        file(MAKE_DIRECTORY ${PROJECT_BINARY_DIR}/headers/${name})
        file(CREATE_LINK ${folder}/${first} ${PROJECT_BINARY_DIR}/headers/${name}/${first} SYMBOLIC)
        set(folder ${PROJECT_BINARY_DIR}/headers/${name})
    endif()
    target_include_directories(${target} SYSTEM PRIVATE ${folder})
endfunction()
