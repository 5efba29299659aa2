# What an installed Brave Quarry is made of, and the Debian package of it (scripts/package).
include(GNUInstallDirs)
set(BQ_RELEASE_DAY "2026-11-30")
set(BQ_RELEASE_STAMP "Mon, 30 Nov 2026 12:00:00 +0000")
file(STRINGS ${CMAKE_SOURCE_DIR}/src/store/project_file.h id_line REGEX "kApplicationId = ")
string(REGEX REPLACE ".*kApplicationId = ([0-9A-Fa-fx]+).*" "\\1" BQ_APPLICATION_ID "${id_line}")
set(packaging ${CMAKE_SOURCE_DIR}/packaging)
set(made ${CMAKE_BINARY_DIR}/packaging)
configure_file(${packaging}/brave-quarry-mime.xml ${made}/brave-quarry.xml @ONLY)
# Software centres fetch pictures: they are told of once it is said where docs/screenshots/ can be
# fetched from. What they would then be told is made in any case, so that scripts/package can check
# it.
set(BQ_PICTURES_ADDRESS "" CACHE STRING
  "Where the pictures of docs/screenshots can be fetched, for software centres (https://…)")
set(pictures
  "verdict|The edge to make, how sure that is, and what speaks against it"
  "section|Cross-sections to scale: what a grind takes off, and what it leaves"
  "stones|Sharpening step by step, with the burr said place by place"
  "plan|A trial planned: which runs, in which order, and what they could tell"
  "bench|A run at the bench, reading by reading"
  "findings-life|What angle, steel and finish do to the life of an edge"
  "lens|The apex under a microscope, measured with its error")
function(write_metainfo address to)
  set(BQ_SCREENSHOTS "")
  if(address)
    set(kind " type=\"default\"")
    foreach(picture IN LISTS pictures)
      string(REGEX MATCH "^([^|]+)\\|(.+)$" parts "${picture}")
      if(NOT EXISTS ${CMAKE_SOURCE_DIR}/docs/screenshots/${CMAKE_MATCH_1}.png)
        message(FATAL_ERROR "docs/screenshots/${CMAKE_MATCH_1}.png is to be shown and is not there")
      endif()
      string(APPEND BQ_SCREENSHOTS "    <screenshot${kind}>\n"
        "      <caption>${CMAKE_MATCH_2}</caption>\n"
        "      <image>${address}/${CMAKE_MATCH_1}.png</image>\n    </screenshot>\n")
      set(kind "")
    endforeach()
    set(BQ_SCREENSHOTS "  <screenshots>\n${BQ_SCREENSHOTS}  </screenshots>\n")
  endif()
  configure_file(${packaging}/org.bravequarry.BraveQuarry.metainfo.xml ${to} @ONLY)
endfunction()
write_metainfo("${BQ_PICTURES_ADDRESS}" ${made}/org.bravequarry.BraveQuarry.metainfo.xml)
write_metainfo("https://pictures.example"
  ${made}/with-pictures/org.bravequarry.BraveQuarry.metainfo.xml)

set(programs brave-quarry brave-quarry-cli brave-quarry-instrument)
install(TARGETS ${programs} RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
install(TARGETS brave-quarry-camera brave-quarry-voice LIBRARY DESTINATION lib/brave-quarry/plugins
  PERMISSIONS OWNER_READ OWNER_WRITE GROUP_READ WORLD_READ)
install(FILES ${packaging}/brave-quarry.desktop
  DESTINATION ${CMAKE_INSTALL_DATADIR}/applications)
install(FILES ${packaging}/brave-quarry.svg
  DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable/apps)
install(FILES ${made}/brave-quarry.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/mime/packages)
install(FILES ${made}/org.bravequarry.BraveQuarry.metainfo.xml
  DESTINATION ${CMAKE_INSTALL_DATADIR}/metainfo)
foreach(program ${programs})
  install(FILES ${packaging}/completion.bash
    DESTINATION ${CMAKE_INSTALL_DATADIR}/bash-completion/completions RENAME ${program})
endforeach()
install(FILES ${packaging}/copyright DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/brave-quarry)
install(DIRECTORY demo/ DESTINATION ${CMAKE_INSTALL_DATADIR}/brave-quarry/demo
  FILES_MATCHING PATTERN "*.json" PATTERN "*.csv")

# Of every language whose catalogue was made (scripts/translation).
if(EXISTS ${CMAKE_SOURCE_DIR}/translations)
  install(DIRECTORY translations/ DESTINATION ${CMAKE_INSTALL_DATADIR}/brave-quarry/translations
    FILES_MATCHING PATTERN "*.qm")
endif()

# Icons of the usual sizes, manual pages of the programs' own help and the log of changes need tools
# that only packaging wants.
option(BQ_PACKAGE "Manual pages, icons of all sizes and the Debian package" OFF)
if(BQ_PACKAGE)
  find_program(HELP2MAN help2man REQUIRED)
  find_program(RSVG_CONVERT rsvg-convert REQUIRED)
  find_program(GZIP gzip REQUIRED)
  set(pages)
  foreach(program ${programs})
    set(page ${made}/${program}.1.gz)
    add_custom_command(OUTPUT ${page}
      COMMAND ${CMAKE_COMMAND} -E env QT_QPA_PLATFORM=offscreen LC_ALL=C.UTF-8
        ${HELP2MAN} --no-info --section 1
        --include ${packaging}/${program}.h2m --output ${made}/${program}.1
        $<TARGET_FILE:${program}>
      COMMAND ${GZIP} -9 -n -f ${made}/${program}.1
      DEPENDS ${program} ${packaging}/${program}.h2m VERBATIM)
    list(APPEND pages ${page})
  endforeach()
  set(icons)
  foreach(size 16 24 32 48 64 128 256)
    set(icon ${made}/${size}/brave-quarry.png)
    add_custom_command(OUTPUT ${icon}
      COMMAND ${CMAKE_COMMAND} -E make_directory ${made}/${size}
      COMMAND ${RSVG_CONVERT} -w ${size} -h ${size} -o ${icon} ${packaging}/brave-quarry.svg
      DEPENDS ${packaging}/brave-quarry.svg VERBATIM)
    install(FILES ${icon}
      DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/${size}x${size}/apps)
    list(APPEND icons ${icon})
  endforeach()
  configure_file(${packaging}/changelog ${made}/changelog @ONLY)
  set(changes)
  foreach(pair "${made}/changelog=changelog.gz" "${CMAKE_SOURCE_DIR}/CHANGELOG.md=CHANGES.gz")
    string(REPLACE "=" ";" pair ${pair})
    list(GET pair 0 from)
    list(GET pair 1 to)
    add_custom_command(OUTPUT ${made}/${to}
      COMMAND sh -c "${GZIP} -9 -n -c '${from}' > '${made}/${to}'" DEPENDS ${from} VERBATIM)
    list(APPEND changes ${made}/${to})
  endforeach()
  add_custom_target(packaging ALL DEPENDS ${pages} ${icons} ${changes})
  install(FILES ${pages} DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
  install(FILES ${changes} DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/brave-quarry)
endif()

set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME brave-quarry)
set(CPACK_PACKAGE_CONTACT "The Brave Quarry developers <brave-quarry@localhost.localdomain>")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY "trial bench for blade-edge testers")
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
set(CPACK_STRIP_FILES ON)
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_SECTION science)
set(CPACK_DEBIAN_PACKAGE_PRIORITY optional)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
# Found at run time, not by what the programs link.
set(CPACK_DEBIAN_PACKAGE_DEPENDS "qt6-qpa-plugins, libqt6svg6")
set(CPACK_DEBIAN_PACKAGE_RECOMMENDS "qt6-image-formats-plugins, shared-mime-info")
set(CPACK_DEBIAN_PACKAGE_DESCRIPTION
"Brave Quarry is for people who measure how sharp an edge is and how long it
stays so. It shows cross-sections to scale, leads through a sharpening, plans
and runs cut trials, keeps every reading, fits blunting curves and lives, and
recommends an edge with its uncertainty.

The package has the window, the command line and stand-in instruments. No
network is used.")
include(CPack)
