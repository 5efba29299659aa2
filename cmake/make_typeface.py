"""Copies an OpenType font with its family renamed from B612 to BqSt (same length).

Debian's package also holds B612 Mono, whose name table claims the family "B612" as well; where it is
installed a program that asks for "B612" gets either. Under a name of its own the embedded face is
the one that is shown. Only the name table changes; the licence allows a renamed copy.
usage: rename_font.py IN OUT
"""
import struct
import sys

data = bytearray(open(sys.argv[1], "rb").read())
tables = struct.unpack(">H", data[4:6])[0]
for i in range(tables):
    tag, _, offset, length = struct.unpack(">4sLLL", data[12 + 16 * i: 28 + 16 * i])
    if tag == b"name":
        table = bytes(data[offset: offset + length])
        table = table.replace("B612".encode("utf-16-be"), "BqSt".encode("utf-16-be"))
        data[offset: offset + length] = table.replace(b"B612", b"BqSt")
        break
else:
    sys.exit("no name table in " + sys.argv[1])
open(sys.argv[2], "wb").write(data)
