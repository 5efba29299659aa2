"""Makes the program's typeface from B612: a name of its own, and round brackets that are round.

Debian's package also holds B612 Mono, whose name table claims the family "B612" as well; where it
is installed a program that asks for "B612" gets either. Under a name of its own the embedded face
is the one that is shown. Its "(" and ")" have straight stems and read like "[" and "]", so that an
interval seems to be a closed one; they are drawn anew. The licence allows a changed copy under
another name.
Papers are set in it too, on machines where no typeface of the kind is installed: its bytes become a
C++ file.
usage: make_typeface.py REGULAR BOLD FOLDER   writes Regular.otf, Bold.otf, typeface_bytes.cpp there
"""
import sys

from fontTools.pens.t2CharStringPen import T2CharStringPen
from fontTools.ttLib import TTFont

OLD = "B612"
# Papers have a family of their own: Qt tells fontconfig of the window's under a file name that only
# Qt can open.
WINDOW, PAPER = "BqSt", "BqPr"
TOP, BOTTOM, MIDDLE = 1600, -420, 590  # of 2000 units an em, as the brackets were


def draw_bracket(pen, width, weight, mirrored):
    """An arc from TOP to BOTTOM: `weight` thick in the middle, thinner at its ends."""
    left, end = 500 - 1.5 * weight, 0.8 * weight
    tip = left + 370

    def at(x, y):
        return (round(width - x if mirrored else x), y)

    pen.moveTo(at(tip, TOP))
    pen.curveTo(at(left + 130, 1330), at(left, 980), at(left, MIDDLE))
    pen.curveTo(at(left, 200), at(left + 130, -150), at(tip, BOTTOM))
    pen.lineTo(at(tip + end, BOTTOM))
    inside = left + weight
    pen.curveTo(at(inside + 120, -130), at(inside, 190), at(inside, MIDDLE))
    pen.curveTo(at(inside, 990), at(inside + 120, 1310), at(tip + end, TOP))
    pen.closePath()


def make(source, target, weight, family):
    font = TTFont(source, recalcTimestamp=False)
    for record in font["name"].names:
        text = record.toUnicode()
        if OLD in text:
            record.string = text.replace(OLD, family)
    cff = font["CFF "].cff
    cff.fontNames = [name.replace(OLD, family) for name in cff.fontNames]
    top = cff.topDictIndex[0]
    for field in ("FullName", "FamilyName"):
        if hasattr(top, field):
            setattr(top, field, getattr(top, field).replace(OLD, family))
    glyphs = font.getGlyphSet()
    for name, mirrored in (("parenleft", False), ("parenright", True)):
        old = top.CharStrings[name]
        width = glyphs[name].width
        pen = T2CharStringPen(width, glyphs)
        draw_bracket(pen, width, weight, mirrored)
        top.CharStrings[name] = pen.getCharString(old.private, old.globalSubrs)
    font.save(target)


def array_of(name, path):
    data = open(path, "rb").read()
    rows = [",".join(map(str, data[i:i + 32])) for i in range(0, len(data), 32)]
    return f"const unsigned char {name}[] = {{\n" + ",\n".join(rows) + "};\n"


regular, bold, folder = sys.argv[1:]
for face, source, weight in (("Regular", regular, 180), ("Bold", bold, 300)):
    make(source, f"{folder}/{face}.otf", weight, WINDOW)
    make(source, f"{folder}/Paper{face}.otf", weight, PAPER)
with open(folder + "/typeface_bytes.cpp", "w") as out:
    out.write('#include "report/typeface.h"\n\nnamespace bq::inline report {\nnamespace {\n')
    out.write(array_of("kRegular", folder + "/PaperRegular.otf"))
    out.write(array_of("kBold", folder + "/PaperBold.otf"))
    out.write("}  // namespace\n\nstd::string_view typeface_bytes(bool bold) {\n")
    out.write("  return bold ? std::string_view(reinterpret_cast<const char*>(kBold), "
              "sizeof kBold)\n")
    out.write("              : std::string_view(reinterpret_cast<const char*>(kRegular), "
              "sizeof kRegular);\n}\n\n}  // namespace bq::inline report\n")
