"""A page as one file: what reads it, how it looks, and what it shows, all inside."""

from __future__ import annotations

import base64
import hashlib
import html

from yarrowdew.drawing.built import built


def single_page(title: str, content: str) -> str:
    """Write an HTML page that shows what is shared and fetches nothing.

    Parameters
    ----------
    title : str
    content : str
        What is shared, as JSON.

    Raises
    ------
    DrawingError
        If the front end is not built.
    """
    script = built("viewer/viewer.js").read_text(encoding="utf-8")
    style = built("viewer/viewer.css").read_text(encoding="utf-8")
    # Within a script, nothing may look like its end.
    script = script.replace("</script", "<\\/script").replace("<!--", "<\\!--")
    data = content.replace("<", "\\u003c")
    digest = base64.b64encode(hashlib.sha256(script.encode()).digest()).decode()
    policy = (
        f"default-src 'none'; script-src 'sha256-{digest}'; style-src 'unsafe-inline'; "
        "img-src data: blob:; font-src data:; base-uri 'none'; form-action 'none'"
    )
    return f"""<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta http-equiv="Content-Security-Policy" content="{policy}">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>{html.escape(title)}</title>
<style>{style}</style>
</head>
<body>
<div id="viewer"></div>
<script type="application/json" id="shared">{data}</script>
<script>{script}</script>
</body>
</html>
"""
