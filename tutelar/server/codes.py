"""Codes to scan (QR, ISO/IEC 18004, by segno) as pictures for the browser."""

import segno


def code_svg(text: str) -> str:
    """Return the code of a text as SVG that stands for itself: dark on white in either theme, as readers want it."""
    drawn = segno.make(text, error="m").svg_inline(scale=4, border=2, dark="#1B2430", light="#FFFFFF", omitsize=True)
    return drawn.replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1)
