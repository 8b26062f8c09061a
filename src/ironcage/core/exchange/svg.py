"""A sheet as SVG at 1:1."""

import xml.etree.ElementTree as ET

from ironcage.core.exchange.drawing import WIDTHS_MM, Path, Sheet, SheetCircle


def to_svg(sheet: Sheet) -> bytes:
    """SVG text, one user unit a mm."""
    size = {
        "width": f"{sheet.width:.3f}mm",
        "height": f"{sheet.height:.3f}mm",
        "viewBox": f"0 0 {sheet.width:.3f} {sheet.height:.3f}",
    }
    root = ET.Element("svg", {"xmlns": "http://www.w3.org/2000/svg", **size})
    ET.SubElement(root, "title").text = sheet.title
    for item in sheet.items:
        if isinstance(item, Path):
            points = " ".join(f"{x:.3f},{sheet.height - y:.3f}" for x, y in item.points)
            line = ET.SubElement(root, "polyline", {"points": points, **_stroke(WIDTHS_MM[item.weight])})
            if item.dashed:
                line.set("stroke-dasharray", "4 2")
        elif isinstance(item, SheetCircle):
            ET.SubElement(
                root,
                "circle",
                {
                    "cx": f"{item.x:.3f}",
                    "cy": f"{sheet.height - item.y:.3f}",
                    "r": f"{item.radius:.3f}",
                    **_stroke(WIDTHS_MM[item.weight]),
                },
            )
        else:
            anchor = {"left": "start", "middle": "middle", "right": "end"}[item.align]
            x, y = f"{item.x:.3f}", f"{sheet.height - item.y:.3f}"
            words = ET.SubElement(
                root,
                "text",
                {"x": x, "y": y, "font-size": f"{item.size:.2f}", "text-anchor": anchor, "font-family": "sans-serif"},
            )
            if not item.upright:
                words.set("transform", f"rotate(-90 {x} {y})")
            words.text = item.text
    return ET.tostring(root, encoding="utf-8", xml_declaration=True)


def _stroke(width: float) -> dict[str, str]:
    return {"fill": "none", "stroke": "black", "stroke-width": f"{width:g}"}
