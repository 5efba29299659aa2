<?xml version="1.0" encoding="utf-8"?>
<!DOCTYPE TS>
<!-- Three texts for other_language_test.cpp; lrelease makes the .qm beside it. -->
<TS version="2.1" language="de" sourcelanguage="en">
<context>
    <name>said</name>
    <message>
        <source>How does each edge blunt?</source>
        <translation>Wie wird jede Schneide stumpf?</translation>
    </message>
    <message>
        <source>tested in {runs}</source>
        <translation>in {runs} erprobt</translation>
    </message>
</context>
<context>
    <name>bq::ui::words</name>
    <message>
        <source>Brave Quarry projects (*.bquarry)</source>
        <translation>Projekte von Brave Quarry (*.bquarry)</translation>
    </message>
</context>
</TS>
