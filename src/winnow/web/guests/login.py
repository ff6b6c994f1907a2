"""The page that asks guests for their name and the password."""

from __future__ import annotations

import html

from winnow.say import LANGUAGE, say

_STYLE = (
    "body{font:16px/1.5 system-ui,sans-serif;background:#eceded;color:#1b1d1f;display:grid;"
    "place-items:center;min-height:90vh;margin:0}"
    "form{display:grid;gap:12px;width:min(24em,88vw)}"
    "input,button{font:inherit;padding:10px 12px;border:1px solid #8b8f92;border-radius:6px;"
    "width:100%;box-sizing:border-box}"
    "button{background:#1b1d1f;color:#fafafa}"
    "code{overflow-wrap:anywhere;font-size:13px}p{margin:0}"
)


def login_page(fingerprint: str, notice: str = "", name: str = "") -> str:
    """The page, with a notice, and with the name that was typed before."""
    said = f'<p role="alert"><strong>{html.escape(notice)}</strong></p>' if notice else ""
    where = say(
        "The owner’s screen shows this, too, and so does your browser for the certificate "
        "(SHA‑256):"
    )
    return (
        f'<!doctype html><html lang="{LANGUAGE}"><head><meta charset="utf-8"><title>Winnow</title>'
        '<meta name="viewport" content="width=device-width, initial-scale=1">'
        f'<style>{_STYLE}</style></head><body><main><form method="post" '
        f'action="/login"><h1>Winnow</h1>'
        f"{said}<label>{say('Your name, as the others will see it')}<br>"
        f'<input name="name" autocomplete="nickname" maxlength="40" value="{html.escape(name)}" '
        f"autofocus required>"
        f"</label><label>{say('Password of this shoot’s owner')}<br>"
        '<input type="password" name="password" autocomplete="current-password" required></label>'
        f"<button>{say('Open')}</button>"
        f"<p>{where}<br><code>{html.escape(fingerprint).replace(':', ':<wbr>')}</code></p>"
        "</form></main></body></html>"
    )
