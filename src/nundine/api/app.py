"""The web application: routes under /api, the built front end for the rest."""

from __future__ import annotations

from pathlib import Path

from fastapi import FastAPI, Request, Response
from fastapi.middleware.gzip import GZipMiddleware
from fastapi.responses import FileResponse
from starlette.middleware.base import RequestResponseEndpoint

from nundine import __version__
from nundine.api import builds, foreign, imports, orders, publish, session, setup, weeks
from nundine.api.http import add_problem_handlers, problem
from nundine.settings import settings
from nundine.store.base import db

HEADERS = {
    "content-security-policy": "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; "
    "frame-ancestors 'none'; base-uri 'none'; form-action 'self'; object-src 'none'",
    "x-content-type-options": "nosniff",
    "x-frame-options": "DENY",
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
    "permissions-policy": "camera=(), microphone=(), geolocation=()",
}


def create_app() -> FastAPI:
    """The application. The database must be connected to before it serves."""
    app = FastAPI(title="Nundine", version=__version__, docs_url=None, redoc_url=None, openapi_url=None)
    add_problem_handlers(app)
    app.add_middleware(GZipMiddleware, minimum_size=1500, compresslevel=4)
    for router in (
        session.router,
        builds.router,
        publish.router,
        weeks.router,
        imports.router,
        foreign.router,
        orders.router,
        setup.router,
    ):
        app.include_router(router)

    @app.middleware("http")
    async def secure(request: Request, call_next: RequestResponseEndpoint) -> Response:
        response = await call_next(request)
        for name, value in HEADERS.items():
            response.headers.setdefault(name, value)
        if request.url.path.startswith("/api"):
            response.headers.setdefault("cache-control", "no-store")
        return response

    @app.get("/api/health", include_in_schema=False)
    def health() -> dict[str, str]:
        with db.connection_context():
            db.execute_sql("SELECT 1")
        return {"status": "well"}

    web = settings().web

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        if path.startswith("api/"):
            return problem(404, "not found", "There is no such address.")
        return _file(web, path)

    return app


def _file(web: Path, path: str) -> Response:
    wanted = (web / path).resolve()
    if path and wanted.is_file() and wanted.is_relative_to(web.resolve()):
        return FileResponse(
            wanted,
            headers={"cache-control": "public, max-age=31536000, immutable"}
            if path.startswith("assets/")
            else {},
        )
    index = web / "index.html"
    if not index.is_file():
        return Response(
            "The front end is not built. Start Nundine with ./nundine serve, which builds it.",
            503,
            media_type="text/plain",
        )
    return FileResponse(index, headers={"cache-control": "no-cache"})
