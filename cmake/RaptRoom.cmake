# A room of the house: one folder, one static library, and only the rooms it links are visible to it.
# Headers are found through the room's own folder alone, so that a wrong include does not compile.
# What a room needs only in its sources is PRIVATE_LINK: its users do not see it.
#
#   rt_room(density SOURCES map.cpp LINK rt_stitch PRIVATE_LINK Threads::Threads HEADERS std)
function(rt_room name)
  cmake_parse_arguments(ROOM "" "HEADERS" "SOURCES;LINK;PRIVATE_LINK" ${ARGN})
  add_library(rt_${name} STATIC ${ROOM_SOURCES})
  target_include_directories(rt_${name} PUBLIC ${CMAKE_CURRENT_SOURCE_DIR})
  target_link_libraries(rt_${name} PUBLIC ${ROOM_LINK} PRIVATE rt_flags ${ROOM_PRIVATE_LINK})
  if(NOT ROOM_HEADERS)
    set(ROOM_HEADERS std)
  endif()
  rt_headers(rt_${name} ${ROOM_HEADERS})
  rt_together(rt_${name})
endfunction()

# Several sources at once, where a whole build is wanted and no single file is worked at.
function(rt_together target)
  if(RT_TOGETHER)
    set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE 6)
  endif()
endfunction()

# Headers from outside that are compiled once for all rooms that name them: a clean build spends most of
# its time reading them otherwise. Kinds: std, json, qt (Core alone), widgets, test, command.
function(rt_headers target kind)
  rt_unhurried(${target} ${kind})
  if(RT_PRECOMPILE)
    target_precompile_headers(${target} REUSE_FROM rt_headers_${kind})
  endif()
endfunction()

# For rooms that read, write and ask but compute nothing: half the time to compile, none to run.
function(rt_plain target)
  target_compile_options(${target} PRIVATE $<$<CONFIG:Release>:-O1>)
endfunction()

# Windows, commands, stores and wires wait for people and disks, and tests for what they test: with the
# sanitizers they are compiled as they stand, in two thirds of the time. What computes keeps -O1.
function(rt_unhurried target kind)
  if(RT_SANITIZE AND kind MATCHES "^(command|widgets|qt|test)$")
    target_compile_options(${target} PRIVATE -O0)
  endif()
endfunction()

function(rt_header_kind kind)
  cmake_parse_arguments(KIND "" "" "LINK;INCLUDE" ${ARGN})
  if(NOT RT_PRECOMPILE)
    return()
  endif()
  file(WRITE ${CMAKE_BINARY_DIR}/headers/${kind}.cpp "// Carries the precompiled headers of this kind.\n")
  add_library(rt_headers_${kind} OBJECT ${CMAKE_BINARY_DIR}/headers/${kind}.cpp)
  target_link_libraries(rt_headers_${kind} PRIVATE rt_flags ${KIND_LINK})
  target_precompile_headers(rt_headers_${kind} PRIVATE ${KIND_INCLUDE})
  rt_unhurried(rt_headers_${kind} ${kind})
endfunction()
