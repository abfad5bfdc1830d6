# A room of the house: one folder, one static library, and only the rooms it links are visible to it.
# Headers are found through the room's own folder alone, so that a wrong include does not compile.
#
#   rt_room(density SOURCES map.cpp LINK rt_stitch PRIVATE_LINK Threads::Threads)
function(rt_room name)
  cmake_parse_arguments(ROOM "" "" "SOURCES;LINK;PRIVATE_LINK" ${ARGN})
  add_library(rt_${name} STATIC ${ROOM_SOURCES})
  target_include_directories(rt_${name} PUBLIC ${CMAKE_CURRENT_SOURCE_DIR})
  target_link_libraries(rt_${name} PUBLIC ${ROOM_LINK} PRIVATE rt_flags ${ROOM_PRIVATE_LINK})
endfunction()
