# Debian packages: `cpack --config build/release/CPackConfig.cmake -B FOLDER`.
set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME kiai)
set(CPACK_PACKAGE_CONTACT "The Kiai authors <kiai@example.org>")
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
set(CPACK_STRIP_FILES TRUE)
set(CPACK_COMPONENTS_ALL development)
if(KIAI_SHARED)
    list(APPEND CPACK_COMPONENTS_ALL runtime)
endif()
if(KIAI_WORKSHOP)
    list(APPEND CPACK_COMPONENTS_ALL workshop)
endif()
if(KIAI_TOOL)
    list(APPEND CPACK_COMPONENTS_ALL tool)
endif()
set(CPACK_DEB_COMPONENT_INSTALL ON)
set(CPACK_COMPONENTS_GROUPING IGNORE)
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)

set(CPACK_DEBIAN_RUNTIME_PACKAGE_NAME libkiai0)
set(CPACK_DEBIAN_RUNTIME_PACKAGE_SECTION libs)
set(CPACK_COMPONENT_RUNTIME_DESCRIPTION "Kiai: sound for games and interactive apps, shared library
 For programs that are linked with libkiai.so.")
set(CPACK_DEBIAN_RUNTIME_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_RUNTIME_PACKAGE_GENERATE_SHLIBS ON)

# Static libraries need what they are linked with.
set(CPACK_DEBIAN_DEVELOPMENT_PACKAGE_NAME libkiai-dev)
set(CPACK_DEBIAN_DEVELOPMENT_PACKAGE_SECTION libdevel)
set(CPACK_COMPONENT_DEVELOPMENT_DESCRIPTION "Kiai: sound for games and interactive apps, development files
 A C++20 library that plays the sounds of a project for the clicks, key presses, collisions and script events that an app
 reports, and tells why or why not.")
set(CPACK_DEBIAN_DEVELOPMENT_PACKAGE_DEPENDS
    "libhwy-dev, libsndfile1-dev, portaudio19-dev, libtomlplusplus-dev, pkg-config | pkgconf")
if(KIAI_SHARED)
    string(PREPEND CPACK_DEBIAN_DEVELOPMENT_PACKAGE_DEPENDS "libkiai0 (= ${PROJECT_VERSION}), ")
endif()
set(CPACK_DEBIAN_WORKSHOP_PACKAGE_NAME libkiai-workshop-dev)
set(CPACK_DEBIAN_WORKSHOP_PACKAGE_SECTION libdevel)
set(CPACK_COMPONENT_WORKSHOP_DESCRIPTION "Kiai: checks, rehearsals and pictures of its projects, development files
 For tools and tests of projects. It never ships with an app.")
set(CPACK_DEBIAN_WORKSHOP_PACKAGE_DEPENDS
    "libkiai-dev (= ${PROJECT_VERSION}), libpango1.0-dev, libebur128-dev, libxxhash-dev, libutf8proc-dev, libexpat1-dev, libcpp-httplib-dev, nlohmann-json3-dev, libfmt-dev")
set(CPACK_DEBIAN_TOOL_PACKAGE_NAME kiai)
set(CPACK_DEBIAN_TOOL_PACKAGE_SECTION sound)
set(CPACK_COMPONENT_TOOL_DESCRIPTION "Kiai: the command-line tool
 Checks, hears, rehearses and explains projects of sounds for games and interactive apps.")
set(CPACK_DEBIAN_TOOL_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_TOOL_PACKAGE_DEPENDS "fonts-dejavu-core")
if(KIAI_AAC AND kiai_ffmpeg_FOUND)
    # Loaded by name when a file needs them, so no dependency is found in the program.
    string(REGEX MATCH "^[0-9]+" kiai_avformat_major "${kiai_ffmpeg_libavformat_VERSION}")
    set(CPACK_DEBIAN_RUNTIME_PACKAGE_RECOMMENDS "libavformat${kiai_avformat_major}")
    set(CPACK_DEBIAN_TOOL_PACKAGE_RECOMMENDS "libavformat${kiai_avformat_major}")
endif()
include(CPack)
