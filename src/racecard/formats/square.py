"""An address as a square code."""

import io


def square_of(url: str) -> str:
    """The address as a square code: an SVG path on a grid with a quiet edge."""
    import segno

    out = io.BytesIO()
    segno.make(url, error="m").save(
        out, kind="svg", xmldecl=False, svgns=True, border=4, scale=1, omitsize=True
    )
    return out.getvalue().decode()
