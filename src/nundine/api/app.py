"""The web application: routes under /api, the built front end for the rest."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from fastapi import FastAPI, Response
from fastapi.middleware.gzip import GZipMiddleware
from fastapi.responses import FileResponse

from nundine import __version__
from nundine.api.admin import accounts, session, setup
from nundine.api.assets import routes as assets
from nundine.api.buying import routes as buying
from nundine.api.document import document
from nundine.api.events import routes as events
from nundine.api.exchange import foreign
from nundine.api.exchange import routes as exchange
from nundine.api.guard import Guard
from nundine.api.http import Reader, sender
from nundine.api.job_plans import routes as job_plans
from nundine.api.ledger import routes as ledger
from nundine.api.lists import routes as lists
from nundine.api.parts import routes as parts
from nundine.api.preventive import routes as preventive
from nundine.api.problems import add_problem_handlers, problem
from nundine.api.requests import routes as requests
from nundine.api.runs import routes as runs
from nundine.api.sites import routes as sites
from nundine.api.week import builds, publish
from nundine.api.week import routes as week
from nundine.api.work_orders import routes as work_orders
from nundine.settings import settings
from nundine.store.base import db


def create_app() -> FastAPI:
    """The application. The database must be connected to before it serves."""
    app = FastAPI(title="Nundine", version=__version__, docs_url=None, redoc_url=None, openapi_url=None)
    app.state.feed = events.Feed()
    add_problem_handlers(app)
    app.add_middleware(GZipMiddleware, minimum_size=1500, compresslevel=4)
    here = settings()
    app.add_middleware(Guard, sender=sender, names=here.allowed_names, secure=here.secure)
    for noun in (
        session,
        accounts,
        builds,
        publish,
        week,
        exchange,
        foreign,
        work_orders,
        requests,
        job_plans,
        assets,
        parts,
        buying,
        preventive,
        setup,
        ledger,
        runs,
        lists,
        sites,
        events,
    ):
        app.include_router(noun.router)

    made: list[dict[str, Any]] = []

    def openapi() -> dict[str, Any]:
        if not made:
            made.append(document(app))
        return made[0]

    app.openapi = openapi  # type: ignore[method-assign]

    @app.get("/api/openapi.json", include_in_schema=False)
    def the_document(_: Reader) -> dict[str, Any]:
        return app.openapi()

    @app.get("/api/health", include_in_schema=False)
    def health() -> dict[str, str]:
        with db.connection_context():
            db.execute_sql("SELECT 1")
        return {"status": "well"}

    web = here.web

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
