"""The built front end: its one page, and what a scene's page is about to fetch."""

from __future__ import annotations

import re
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.responses import HTMLResponse
from fastapi.staticfiles import StaticFiles

STATIC = Path(__file__).resolve().parent / "static"

SCENE = re.compile(r"scene/([0-9a-f]+)")


def serve_page(app: FastAPI) -> None:
    """Answer every other address with the page, and its files under `/assets`."""
    app.mount("/assets", StaticFiles(directory=STATIC / "assets", check_dir=False))

    @app.get("/{rest:path}", include_in_schema=False)
    def page(request: Request, rest: str) -> HTMLResponse:
        index = STATIC / "index.html"
        if not index.is_file():
            return HTMLResponse("<p>The front end is not built yet: run <code>make build</code>.</p>", 503)
        html = index.read_text().replace("__NONCE__", request.scope["state"]["nonce"])
        return HTMLResponse(html, headers={"Cache-Control": "no-store"} | _fetched_soon(rest))


def _fetched_soon(address: str) -> dict[str, str]:
    """A `Link` header (RFC 8288) with which the browser fetches a scene while the script is still being loaded."""
    found = SCENE.fullmatch(address)
    if not found:
        return {}
    paths = (f"/api/scenes/{found[1]}", "/api/facts", "/api/projects")
    return {"Link": ", ".join(f"<{path}>; rel=preload; as=fetch; crossorigin" for path in paths)}
