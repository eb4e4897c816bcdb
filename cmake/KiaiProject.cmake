# kiai_project(TARGET FOLDER [NAMES HEADER] [NAMESPACE SPACE] [PACK] [COPY]): what an app needs of its Kiai project, made
# with the app.
#
#   FOLDER     the project, relative to this directory. Each build checks it, where it has changed: its errors end the
#              build, with the file and the line.
#   NAMES      makes a header with the names of the project, relative to the build directory, and finds it for TARGET.
#   NAMESPACE  the namespace of the names; default: names
#   PACK       makes a pack of the project next to the app: FOLDER's name with .kiai
#   COPY       copies the project's folder next to the app
#
# It runs the tool `kiai`: of this build, of the same installation, or on the PATH; -DKIAI_EXECUTABLE=... names another.
function(kiai_project target folder)
    cmake_parse_arguments(PARSE_ARGV 2 project "PACK;COPY" "NAMES;NAMESPACE" "")
    if(project_UNPARSED_ARGUMENTS)
        message(FATAL_ERROR "kiai_project does not know ${project_UNPARSED_ARGUMENTS}: it takes NAMES, NAMESPACE, PACK, COPY")
    endif()
    if(NOT TARGET ${target})
        message(FATAL_ERROR "kiai_project: there is no target ${target}; add it before")
    endif()
    cmake_path(ABSOLUTE_PATH folder NORMALIZE)
    if(NOT EXISTS ${folder}/kiai.toml)
        message(FATAL_ERROR "kiai_project: there is no kiai.toml in ${folder}")
    endif()
    if(TARGET kiai_tool)
        set(tool $<TARGET_FILE:kiai_tool>)
        set(tool_target kiai_tool)
    else()
        find_program(KIAI_EXECUTABLE kiai HINTS ${kiai_tool_dir} DOC "Kiai's command-line tool")
        if(NOT KIAI_EXECUTABLE)
            message(FATAL_ERROR "kiai_project: the tool `kiai` was not found; install it, or set KIAI_EXECUTABLE")
        endif()
        set(tool ${KIAI_EXECUTABLE})
    endif()
    cmake_path(GET folder FILENAME name)
    set(made ${CMAKE_CURRENT_BINARY_DIR}/kiai-${target}-${name})
    file(MAKE_DIRECTORY ${made})
    file(GLOB_RECURSE files CONFIGURE_DEPENDS ${folder}/*)
    list(FILTER files EXCLUDE REGEX "/\\.[^/]*$")

    add_custom_command(OUTPUT ${made}/checked
        COMMAND ${tool} check ${folder}
        COMMAND ${CMAKE_COMMAND} -E touch ${made}/checked
        DEPENDS ${files} ${tool_target} COMMENT "Checking the sounds of ${name}" VERBATIM)
    set(outputs ${made}/checked)
    if(project_NAMES)
        cmake_path(ABSOLUTE_PATH project_NAMES BASE_DIRECTORY ${CMAKE_CURRENT_BINARY_DIR} NORMALIZE OUTPUT_VARIABLE header)
        cmake_path(GET header PARENT_PATH header_folder)
        file(MAKE_DIRECTORY ${header_folder})
        if(NOT project_NAMESPACE)
            set(project_NAMESPACE names)
        endif()
        # The header is only written where a name has changed, so that nothing is compiled again for a gain.
        add_custom_command(OUTPUT ${made}/named BYPRODUCTS ${header}
            COMMAND ${tool} names ${folder} --namespace ${project_NAMESPACE} --out ${header}
            COMMAND ${CMAKE_COMMAND} -E touch ${made}/named
            DEPENDS ${made}/checked COMMENT "Making the names of ${name}" VERBATIM)
        list(APPEND outputs ${made}/named)
        target_include_directories(${target} PRIVATE ${header_folder})
    endif()
    if(project_PACK)
        add_custom_command(OUTPUT ${made}/${name}.kiai
            COMMAND ${tool} pack ${folder} --out ${made}/${name}.kiai
            DEPENDS ${made}/checked COMMENT "Packing the sounds of ${name}" VERBATIM)
        list(APPEND outputs ${made}/${name}.kiai)
        add_custom_command(TARGET ${target} POST_BUILD COMMAND ${CMAKE_COMMAND} -E copy_if_different
            ${made}/${name}.kiai $<TARGET_FILE_DIR:${target}>/${name}.kiai VERBATIM)
    endif()
    if(project_COPY)
        add_custom_command(TARGET ${target} POST_BUILD COMMAND ${CMAKE_COMMAND} -E copy_directory
            ${folder} $<TARGET_FILE_DIR:${target}>/${name} VERBATIM)
    endif()
    add_custom_target(kiai-${target}-${name} DEPENDS ${outputs})
    add_dependencies(${target} kiai-${target}-${name})
    # What is copied follows the project, though no source file of the app has changed.
    set_property(TARGET ${target} APPEND PROPERTY LINK_DEPENDS ${outputs})
endfunction()
