# What is installed, and where. Components: `runtime` (libkiai.so), `development` (static libraries, headers, CMake and
# pkg-config files), `workshop` (the same for kiai::workshop), `tool`. An installed folder may be moved.
include(GNUInstallDirs)
include(CMakePackageConfigHelpers)

set(kiai_cmake_dir ${CMAKE_INSTALL_LIBDIR}/cmake/kiai)

# One library, with its own file of targets, so that each storey can be installed without those above it.
function(kiai_install_library target name component)
    set_target_properties(${target} PROPERTIES EXPORT_NAME ${name})
    target_include_directories(${target} PUBLIC $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>)
    install(TARGETS ${target} EXPORT kiai-${name} COMPONENT ${component}
        ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR} LIBRARY DESTINATION ${CMAKE_INSTALL_LIBDIR}
        RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
    install(EXPORT kiai-${name} NAMESPACE kiai:: FILE kiai-${name}-targets.cmake
        DESTINATION ${kiai_cmake_dir} COMPONENT ${component})
endfunction()

# kiai.pc and its like. REQUIRES: the storeys below. LIBRARIES: what the archive is linked with, by name: `pkg-config --static`
# would ask for what those libraries are made of too, which is not installed with them.
function(kiai_install_pkg_config name component)
    cmake_parse_arguments(pc "SHARED" "DESCRIPTION" "REQUIRES;LIBRARIES" ${ARGN})
    set(pc_library -l:lib${name}.a) # the archive, though a shared library lies beside it
    if(pc_SHARED)
        set(pc_library -lkiai)
    endif()
    list(JOIN pc_REQUIRES ", " pc_requires)
    list(REMOVE_DUPLICATES pc_LIBRARIES)
    list(TRANSFORM pc_LIBRARIES PREPEND -l)
    list(JOIN pc_LIBRARIES " " pc_libraries)
    file(RELATIVE_PATH pc_prefix /${CMAKE_INSTALL_LIBDIR}/pkgconfig /)
    configure_file(${PROJECT_SOURCE_DIR}/cmake/kiai.pc.in ${PROJECT_BINARY_DIR}/pkgconfig/${name}.pc @ONLY)
    install(FILES ${PROJECT_BINARY_DIR}/pkgconfig/${name}.pc DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig
        COMPONENT ${component})
endfunction()

set_target_properties(kiai_silent PROPERTIES EXPORT_NAME silent)
target_include_directories(kiai_silent INTERFACE $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>)
install(TARGETS kiai_silent EXPORT kiai-core COMPONENT development)
kiai_install_library(kiai_core core development)
kiai_install_pkg_config(kiai-core development DESCRIPTION "Kiai without files and devices"
    LIBRARIES ${kiai_hwy_libraries} pthread)
install(FILES include/kiai_c.h DESTINATION ${CMAKE_INSTALL_INCLUDEDIR} COMPONENT development)
install(DIRECTORY include/kiai ${PROJECT_BINARY_DIR}/include/kiai DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}
    COMPONENT development FILES_MATCHING PATTERN *.h PATTERN workshop EXCLUDE)
if(KIAI_RUNTIME AND KIAI_SHARED)
    set_target_properties(kiai_shared PROPERTIES EXPORT_NAME shared)
    target_include_directories(kiai_shared PUBLIC $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>)
    install(TARGETS kiai_shared EXPORT kiai-shared
        LIBRARY DESTINATION ${CMAKE_INSTALL_LIBDIR} COMPONENT runtime NAMELINK_COMPONENT development)
    install(EXPORT kiai-shared NAMESPACE kiai:: FILE kiai-shared-targets.cmake
        DESTINATION ${kiai_cmake_dir} COMPONENT development)
    kiai_install_pkg_config(kiai-shared development SHARED DESCRIPTION "Sound for games and interactive apps, shared")
    install(FILES examples/languages/kiai.py DESTINATION ${CMAKE_INSTALL_DATADIR}/kiai/python COMPONENT development)
endif()
if(KIAI_RUNTIME)
    kiai_install_library(kiai static development)
    list(JOIN kiai_runtime_backends " " kiai_backends)
    kiai_install_pkg_config(kiai development DESCRIPTION "Sound for games and interactive apps"
        REQUIRES kiai-core LIBRARIES ${kiai_runtime_libraries})
endif()
if(KIAI_WORKSHOP)
    kiai_install_library(kiai_workshop workshop workshop)
    kiai_install_pkg_config(kiai-workshop workshop DESCRIPTION "Checks, rehearsals and pictures of Kiai projects"
        REQUIRES kiai LIBRARIES ${kiai_workshop_libraries} fmt)
    install(DIRECTORY include/kiai/workshop DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}/kiai COMPONENT workshop)
endif()
if(KIAI_TOOL)
    install(TARGETS kiai_tool RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR} COMPONENT tool)
    install(DIRECTORY examples/marble-run DESTINATION ${CMAKE_INSTALL_DATADIR}/kiai COMPONENT tool
        PATTERN .kiai-facts.json EXCLUDE)
    if(KIAI_WEB)
        install(FILES ${KIAI_WEB}/kiai.wasm ${KIAI_WEB}/kiai.js ${KIAI_WEB}/wasm.js ${KIAI_WEB}/worklet.js
            DESTINATION ${CMAKE_INSTALL_DATADIR}/kiai/web COMPONENT tool)
    endif()
    if(NOT CMAKE_CROSSCOMPILING)
        foreach(kiai_share man bash-completion zsh fish)
            install(DIRECTORY ${PROJECT_BINARY_DIR}/share/${kiai_share} DESTINATION ${CMAKE_INSTALL_DATADIR} COMPONENT tool)
        endforeach()
    endif()
endif()

configure_package_config_file(cmake/kiai-config.cmake.in ${PROJECT_BINARY_DIR}/kiai-config.cmake
    INSTALL_DESTINATION ${kiai_cmake_dir} NO_SET_AND_CHECK_MACRO)
# Before 1.0 a minor version may change the API.
write_basic_package_version_file(${PROJECT_BINARY_DIR}/kiai-config-version.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${PROJECT_SOURCE_DIR}/cmake/KiaiProject.cmake ${PROJECT_BINARY_DIR}/kiai-config.cmake ${PROJECT_BINARY_DIR}/kiai-config-version.cmake
    DESTINATION ${kiai_cmake_dir} COMPONENT development)
