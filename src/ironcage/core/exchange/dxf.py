"""A sheet as DXF (R2010, millimetres), one layer for each weight of line."""

import io

from ironcage.core.exchange.drawing import WIDTHS_MM, Path, Sheet, SheetCircle


def to_dxf(sheet: Sheet) -> bytes:
    """DXF text of a sheet at 1:1 in mm."""
    from ezdxf import document as dxf
    from ezdxf import units
    from ezdxf.enums import TextEntityAlignment

    document = dxf.Drawing.new("R2010")
    document.units = units.MM
    for weight, width in WIDTHS_MM.items():
        document.layers.add(weight.upper(), lineweight=round(width * 100))
    document.layers.add("TEXT")
    space = document.modelspace()
    aligned = {
        "left": TextEntityAlignment.LEFT,
        "middle": TextEntityAlignment.CENTER,
        "right": TextEntityAlignment.RIGHT,
    }
    for item in sheet.items:
        if isinstance(item, Path):
            layer = {"layer": item.weight.upper()}
            if len(item.points) == 2:
                space.add_line(item.points[0], item.points[1], dxfattribs=layer)
            else:
                space.add_lwpolyline(item.points, dxfattribs=layer)
        elif isinstance(item, SheetCircle):
            space.add_circle((item.x, item.y), item.radius, dxfattribs={"layer": item.weight.upper()})
        else:
            text = space.add_text(
                " ".join(item.text.split()),
                height=item.size,
                rotation=0 if item.upright else 90,
                dxfattribs={"layer": "TEXT"},
            )
            text.set_placement((item.x, item.y), align=aligned[item.align])
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode("utf-8")
