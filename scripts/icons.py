"""Draws the icon of the page in the sizes that installed pages ask for, from ``icon.svg``.

``python -m scripts.icons``, after a change of the drawing. The maskable one is square, and what it
shows keeps to the inner four fifths (W3C, Web Application Manifest, "Icon masks").
"""

from __future__ import annotations

import base64
from pathlib import Path

from tests.browser.chromium import chromium

PUBLIC = Path(__file__).parent.parent / "frontend" / "public"


def main() -> None:
    """Draw them anew."""
    svg = (PUBLIC / "icon.svg").read_text()
    whole = svg.replace('rx="7" ', "").replace(
        '<path d="', '<path transform="translate(16 16) scale(.8) translate(-16 -16)" d="'
    )
    with chromium() as browser, browser.page() as page:
        for name, drawing, size in (
            ("icon-192.png", svg, 192),
            ("icon-512.png", svg, 512),
            ("icon-whole.png", whole, 512),
        ):
            page.driver.execute_cdp_cmd(
                "Emulation.setDeviceMetricsOverride",
                {"width": size, "height": size, "deviceScaleFactor": 1, "mobile": False},
            )
            page.driver.execute_cdp_cmd(
                "Emulation.setDefaultBackgroundColorOverride",
                {"color": {"r": 0, "g": 0, "b": 0, "a": 0}},
            )
            coded = base64.b64encode(drawing.encode()).decode()
            page.driver.get(
                "data:text/html,<style>body{margin:0}img{display:block;width:100vw;height:100vh}"
                f"</style><img src='data:image/svg+xml;base64,{coded}'>"
            )
            shot = page.driver.execute_cdp_cmd("Page.captureScreenshot", {"format": "png"})
            (PUBLIC / name).write_bytes(base64.b64decode(shot["data"]))


if __name__ == "__main__":
    main()
