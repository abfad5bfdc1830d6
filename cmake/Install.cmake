# What goes where, and packages made of it.
install(DIRECTORY data/ DESTINATION ${CMAKE_INSTALL_DATADIR}/rapt-thimble)
install(FILES packaging/io.rapt_thimble.RaptThimble.desktop DESTINATION ${CMAKE_INSTALL_DATADIR}/applications)
install(FILES packaging/io.rapt_thimble.RaptThimble.metainfo.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/metainfo)
install(FILES packaging/rapt-thimble-mime.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/mime/packages RENAME rapt-thimble.xml)
install(FILES data/icons/rapt-thimble.svg DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable/apps)
install(FILES packaging/rapt-thimble.1 packaging/rapt-thimble-cli.1 packaging/rapt-thimble-standin.1
        DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
install(FILES LICENSE README.md DESTINATION ${CMAKE_INSTALL_DOCDIR})

set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME rapt-thimble)
set(CPACK_PACKAGE_VENDOR "Rapt Thimble")
set(CPACK_PACKAGE_CONTACT "Rapt Thimble maintainers <maintainers@rapt-thimble.example>")
set(CPACK_DEBIAN_PACKAGE_SECTION graphics)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_DEPENDS "libqt6sql6-sqlite, libqt6sql6-psql, qt6-qpa-plugins")
include(CPack)
