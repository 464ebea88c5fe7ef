# ruff: noqa: E501
"""Small SVG files, one for each thing that files hold; each is 160 × 120 pixels unless it says otherwise."""

from __future__ import annotations

DEFS = """
<linearGradient id="dusk" x1="0" y1="0" x2="1" y2="1"><stop offset="0" stop-color="#f7b267"/>
<stop offset=".5" stop-color="#f25c54" stop-opacity=".8"/><stop offset="1" stop-color="#0e3f45"/></linearGradient>
<radialGradient id="sun" cx="30%" cy="40%" r="60%"><stop offset="10%" stop-color="gold"/>
<stop offset="100%" stop-color="rgb(200 40 20 / 40%)"/></radialGradient>
"""


def svg(body: str, head: str = 'width="160" height="120"', defs: str = "") -> str:
    """A file with a body."""
    given = f"<defs>{DEFS}{defs}</defs>"
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" {head}>{given}{body}</svg>'
    )


WAVE = "M10 60 C 30 10 50 110 80 60 S 130 10 150 60"
BLOB = "M80 10 Q 150 20 140 70 T 70 110 Q 0 100 20 50 Z"
RING = "M80 10 A50 50 0 1 1 79.9 10 Z M80 35 A25 25 0 1 0 80.1 35 Z"
STAR = "M80 8 L110 100 L30 42 L130 42 L50 100 Z"

SAMPLES: dict[str, str] = {
    # Shapes
    "rect": svg('<rect x="20" y="15" width="90" height="60" fill="#0e6b61"/>'),
    "rounded rect": svg('<rect x="20" y="15" width="110" height="80" rx="20" fill="teal"/>'),
    "unequal corners": svg('<rect x="20" y="15" width="110" height="80" rx="40" ry="15" fill="teal"/>'),
    "corners too large": svg('<rect x="20" y="15" width="110" height="40" rx="200" ry="15" fill="coral"/>'),
    "circle": svg('<circle cx="70" cy="60" r="45" fill="#d9482f"/>'),
    "ellipse": svg('<ellipse cx="80" cy="60" rx="70" ry="30" fill="#d9482f" stroke="#1b2628" stroke-width="5"/>'),
    "ellipse with one radius": svg('<ellipse cx="80" cy="60" rx="40" fill="plum"/>'),
    "line": svg('<line x1="10" y1="20" x2="150" y2="90" stroke="#1b2628" stroke-width="7"/>'),
    "polyline": svg('<polyline points="10,90 40,20 70,90 100,20 140,90" fill="none" stroke="navy" stroke-width="6"/>'),
    "filled polyline": svg('<polyline points="10,90 40,20 70,90 100,20 140,90" fill="gold" stroke="navy"/>'),
    "polygon": svg('<polygon points="80,10 150,60 120,110 40,110 10,60" fill="seagreen"/>'),
    "cubics": svg(f'<path d="{WAVE}" fill="none" stroke="#0e6b61" stroke-width="8"/>'),
    "quadratics": svg(f'<path d="{BLOB}" fill="steelblue"/>'),
    "arcs": svg(f'<path d="{RING}" fill="tomato" fill-rule="evenodd"/>'),
    "arc flags": svg(
        '<path d="M20 60a40 25 30 0140-20M20 60a40 25 30 1140-20" fill="none" stroke="#333" stroke-width="3"/>'
    ),
    "relative path": svg('<path d="m20 20h60v30h-30l40 40-20 10q-30-60-50-10z" fill="#7a5195"/>'),
    "even-odd": svg(f'<path d="{STAR}" fill="#f2b544" fill-rule="evenodd"/>'),
    "non-zero": svg(f'<path d="{STAR}" fill="#f2b544"/>'),
    "path with a mistake": svg('<path d="M20 20 L140 20 L140 90 L 20 wrong 90 Z" fill="#0e6b61"/>'),
    "NaN in a path": svg(
        '<path d="M20 20 L140 20 L140 90 L NaN 90 Z" fill="#0e6b61"/><circle cx="30" cy="90" r="20"/>'
    ),
    # Paint
    "named colours": svg(
        '<rect width="80" height="60" fill="rebeccapurple"/><rect x="80" width="80" height="60" fill="hsl(30 80% 50%)"/>'
        '<rect y="60" width="80" height="60" fill="#ab48"/><rect x="80" y="60" width="80" height="60" fill="rgb(20%,50%,70%)"/>'
    ),
    "opacities": svg(
        '<rect x="10" y="10" width="90" height="60" fill="red" fill-opacity=".5"/>'
        '<rect x="50" y="40" width="90" height="60" stroke="#00f" stroke-opacity=".4" stroke-width="20" fill="none"/>'
    ),
    "group opacity": svg(
        '<g opacity=".5"><circle cx="60" cy="60" r="40" fill="red"/><circle cx="95" cy="60" r="40" fill="blue"/></g>'
    ),
    "linear gradient": svg('<rect x="10" y="10" width="140" height="100" fill="url(#dusk)"/>'),
    "gradient on a long box": svg('<rect x="10" y="40" width="140" height="20" fill="url(#dusk)"/>'),
    "gradient in user space": svg(
        '<circle cx="80" cy="60" r="50" fill="url(#u)"/>',
        defs='<linearGradient id="u" gradientUnits="userSpaceOnUse" x1="40" y1="20" x2="120" y2="100">'
        '<stop stop-color="#fff" offset="0"/><stop stop-color="#000" offset="100%"/></linearGradient>',
    ),
    "turned gradient": svg(
        '<rect x="10" y="10" width="140" height="100" fill="url(#t)"/>',
        defs='<linearGradient id="t" gradientTransform="rotate(30) scale(.5 1)" xlink:href="#dusk"/>',
    ),
    "radial gradient": svg('<rect x="10" y="10" width="140" height="100" fill="url(#sun)"/>'),
    "skewed radial gradient": svg(
        '<rect x="10" y="10" width="140" height="100" fill="url(#t)"/>',
        defs='<radialGradient id="t" gradientTransform="rotate(20 .5 .5) skewX(20)" href="#sun"/>',
    ),
    "gradient with one stop": svg(
        '<circle cx="80" cy="60" r="50" fill="url(#o)"/>',
        defs='<linearGradient id="o"><stop offset=".5" stop-color="#0e6b61"/></linearGradient>',
    ),
    "gradient of a stroke": svg(f'<path d="{WAVE}" fill="none" stroke="url(#dusk)" stroke-width="14"/>'),
    "missing paint with a fallback": svg('<circle cx="80" cy="60" r="50" fill="url(#nowhere) #0e6b61"/>'),
    "currentColor": svg('<g color="crimson"><circle cx="80" cy="60" r="50" fill="currentColor"/></g>'),
    # Strokes
    "caps": svg(
        '<g stroke="#1b2628" stroke-width="16"><path d="M30 25H130" stroke-linecap="butt"/>'
        '<path d="M30 60H130" stroke-linecap="round"/><path d="M30 95H130" stroke-linecap="square"/></g>'
    ),
    "joins": svg(
        '<g fill="none" stroke="#1b2628" stroke-width="12"><path d="M15 90L35 30L55 90" stroke-linejoin="miter"/>'
        '<path d="M60 90L80 30L100 90" stroke-linejoin="round"/><path d="M105 90L125 30L145 90" stroke-linejoin="bevel"/></g>'
    ),
    "mitre limit": svg(
        '<path d="M20 100L80 20L90 100L140 15" fill="none" stroke="#333" stroke-width="9" stroke-miterlimit="2"/>'
    ),
    "dashes": svg(
        f'<path d="{WAVE}" fill="none" stroke="#333" stroke-width="5" stroke-dasharray="14 6" stroke-dashoffset="9"/>'
    ),
    "one dash": svg(
        '<circle cx="80" cy="60" r="45" fill="none" stroke="#333" stroke-width="6" stroke-dasharray="10"/>'
    ),
    "stroke before fill": svg(
        f'<path d="{BLOB}" fill="gold" stroke="#333" stroke-width="14" paint-order="stroke fill"/>'
    ),
    # Transforms
    "translate, rotate, scale": svg(
        '<rect width="40" height="30" fill="#0e6b61" transform="translate(60 20) rotate(30) scale(1.5 2)"/>'
    ),
    "skew": svg('<rect x="20" y="20" width="70" height="60" fill="#0e6b61" transform="skewX(25)"/>'),
    "matrix": svg('<circle r="40" fill="#d9482f" transform="matrix(.8 .4 -.5 1.1 80 60)"/>'),
    "stretched stroke": svg(
        '<circle cx="20" cy="15" r="12" fill="none" stroke="#333" stroke-width="4" transform="scale(4 3)"/>'
    ),
    "skewed stroke": svg(
        '<rect x="10" y="20" width="60" height="60" fill="gold" stroke="#333" stroke-width="8" '
        'transform="skewX(30) scale(1 1.2)"/>'
    ),
    "mirrored": svg(f'<g transform="translate(160 0) scale(-1 1)"><path d="{BLOB}" fill="url(#dusk)"/></g>'),
    "nested groups": svg(
        '<g transform="translate(80 60)"><g transform="rotate(15)"><g transform="scale(.8)" fill="#7a5195">'
        '<rect x="-60" y="-40" width="120" height="80"/><circle r="25" fill="#fff"/></g></g></g>'
    ),
    # Structure
    "use": svg(
        '<use href="#dot" x="30" y="40"/><use xlink:href="#dot" x="80" y="40" fill="red"/><use href="#dot" '
        'transform="translate(130 80) scale(1.5)"/>',
        defs='<circle id="dot" r="18" stroke="#333" stroke-width="3"/>',
    ),
    "symbol": svg(
        '<use href="#leaf" x="10" y="10" width="60" height="100"/><use href="#leaf" x="80" y="30" width="70" height="40"/>',
        defs='<symbol id="leaf" viewBox="0 0 10 10"><path d="M1 9C1 3 5 1 9 1C9 7 6 9 1 9Z" fill="seagreen"/></symbol>',
    ),
    "symbol that cuts": svg(
        '<use href="#cut" x="20" y="20" width="80" height="80"/>',
        defs='<symbol id="cut" viewBox="0 0 10 10"><circle cx="8" cy="5" r="5" fill="#d9482f"/></symbol>',
    ),
    "nested svg": svg(
        '<svg x="30" y="20" width="100" height="60" viewBox="0 0 20 20"><circle cx="10" cy="10" r="9" fill="teal"/></svg>'
    ),
    "view box": svg(
        '<rect x="10" y="10" width="60" height="40" fill="teal"/>', 'width="160" height="120" viewBox="0 0 80 60"'
    ),
    "view box, slice": svg(
        '<circle cx="50" cy="50" r="48" fill="teal"/>',
        'width="160" height="120" viewBox="0 0 100 100" preserveAspectRatio="xMinYMax slice"',
    ),
    "view box, none": svg(
        '<circle cx="50" cy="50" r="48" fill="teal" stroke="#333" stroke-width="6"/>',
        'width="160" height="120" viewBox="0 0 100 100" preserveAspectRatio="none"',
    ),
    "view box elsewhere": svg(
        '<circle cx="0" cy="0" r="50" fill="teal"/>', 'width="160" height="120" viewBox="-80 -60 160 120"'
    ),
    "units": svg('<rect x="5mm" y=".2in" width="50%" height="3pc" fill="teal"/><circle cx="80%" cy="80%" r="10pt"/>'),
    "hidden things": svg(
        '<rect width="60" height="60" display="none"/><g visibility="hidden"><rect width="50" height="50"/>'
        '<circle cx="100" cy="60" r="30" visibility="visible" fill="teal"/></g>'
    ),
    "switch": svg(
        '<switch><g requiredExtensions="x:y"><rect width="99" height="99"/></g><circle cx="80" cy="60" r="40"/></switch>'
    ),
    # Styles
    "style attribute": svg(
        '<circle cx="80" cy="60" r="40" fill="red" style="fill: teal; stroke: #333; stroke-width: 6px"/>'
    ),
    "style sheet": svg(
        "<style>circle { fill: gold } .big, #one { stroke: #333; stroke-width: 4 } g > .big { fill: teal !important }"
        "</style><circle id='one' cx='40' cy='60' r='30'/><g><circle class='big' cx='110' cy='60' r='40' "
        "style='fill: red'/></g>"
    ),
    "cascade": svg(
        "<style>rect { fill: red } rect.a { fill: teal } rect { fill: gold }</style>"
        "<rect class='a' width='80' height='120'/><rect x='80' width='80' height='120' fill='blue'/>"
    ),
    "inheritance": svg(
        '<g fill="teal" stroke="#333" stroke-width="5"><g stroke="inherit" fill="gold"><circle cx="50" cy="60" r="35"/></g>'
        '<circle cx="115" cy="60" r="30" stroke="none"/></g>'
    ),
    # Clips and masks
    "clip": svg(
        '<rect width="160" height="120" fill="url(#dusk)" clip-path="url(#c)"/>',
        defs=f'<clipPath id="c"><path d="{BLOB}"/></clipPath>',
    ),
    "clip of a group": svg(
        '<g clip-path="url(#c)" opacity=".7"><rect width="90" height="120" fill="teal"/><rect x="70" width="90" '
        'height="120" fill="gold"/></g>',
        defs='<clipPath id="c"><circle cx="60" cy="60" r="40"/><rect x="90" y="30" width="50" height="60"/></clipPath>',
    ),
    "clip in the box": svg(
        '<rect x="20" y="10" width="120" height="100" fill="teal" clip-path="url(#c)"/>',
        defs='<clipPath id="c" clipPathUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".4"/></clipPath>',
    ),
    "even-odd clip": svg(
        '<rect width="160" height="120" fill="teal" clip-path="url(#c)"/>',
        defs=f'<clipPath id="c"><path d="{STAR}" clip-rule="evenodd"/></clipPath>',
    ),
    "clip of a clip": svg(
        '<rect width="160" height="120" fill="teal" clip-path="url(#c)"/>',
        defs='<clipPath id="d"><rect x="0" y="0" width="80" height="120"/></clipPath>'
        '<clipPath id="c" clip-path="url(#d)"><circle cx="80" cy="60" r="50"/></clipPath>',
    ),
    "turned clip": svg(
        '<g transform="rotate(12 80 60)"><rect x="10" y="10" width="140" height="100" fill="gold" clip-path="url(#c)"/></g>',
        defs='<clipPath id="c" transform="translate(10 0)"><ellipse cx="70" cy="60" rx="60" ry="35"/></clipPath>',
    ),
    "mask": svg(
        '<rect width="160" height="120" fill="teal" mask="url(#m)"/>',
        defs='<mask id="m"><circle cx="80" cy="60" r="50" fill="white"/><circle cx="95" cy="60" r="25" fill="black"/></mask>',
    ),
    "half mask": svg(
        '<rect width="160" height="120" fill="teal" mask="url(#m)"/>',
        defs='<mask id="m" maskContentUnits="userSpaceOnUse"><rect x="20" y="20" width="120" height="80" fill="white" '
        'fill-opacity=".5"/></mask>',
    ),
}
"""Files that our painter paints as Chromium does."""
