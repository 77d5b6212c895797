"""The application: routers, problems, and the page itself."""

from collections.abc import Collection
from pathlib import Path
from typing import Any

from fastapi import FastAPI, Request
from fastapi.middleware.gzip import GZipMiddleware
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles

from racecard import __version__
from racecard.api import (
    clock,
    conditions,
    demo,
    designs,
    diary,
    dry_runs,
    finish,
    form_book,
    garden_joining,
    gardens,
    handbook,
    joining,
    labels,
    looks,
    materials,
    mixing,
    plans,
    prepare,
    problems,
    reference,
    reports,
    rounds,
    series,
    tables,
    today,
    trainer,
    trials,
)
from racecard.api.boundary import LOCAL_HOSTS, Boundary
from racecard.api.schemas.problems import Problem
from racecard.api.table_work import LongTables
from racecard.errors import NotFound
from racecard.standins.label_printer import LabelPrinter
from racecard.store.clock_guard import PhoneClocks
from racecard.store.engine import Shed

WEB = Path(__file__).parent.parent / "web"
_PROBLEMS: dict[int | str, dict[str, object]] = {
    status: {"model": Problem, "description": said}
    for status, said in ((404, "Not found"), (409, "Not possible now"), (422, "Please check"))
}


def create_app(shed: Shed, web: Path = WEB, hosts: Collection[str] = LOCAL_HOSTS) -> FastAPI:
    """The application over one shed.

    Args:
        shed: the store it reads and writes.
        web: folder of the built front end.
        hosts: names and addresses it is reached by; a request for another is refused.
    """
    app = FastAPI(
        title="Racecard", version=__version__, docs_url=None, redoc_url=None,
        openapi_url="/api/openapi.json", responses=_PROBLEMS,
    )  # fmt: skip
    app.state.shed = shed
    app.state.printer = LabelPrinter()
    app.state.sharing = None
    app.state.phone_clocks = PhoneClocks()
    app.state.dry_runs = dry_runs.Jobs()
    app.state.long_tables = LongTables()
    app.add_middleware(
        GZipMiddleware, minimum_size=1000, compresslevel=3
    )  # 9 costs more than the network
    app.add_middleware(Boundary, hosts=hosts, built=_built(web))
    _document_problems(app)
    problems.install(app)
    features = (
        trials,
        plans,
        designs,
        prepare,
        mixing,
        materials,
        labels,
        rounds,
        looks,
        diary,
        conditions,
        today,
        clock,
        joining,
        finish,
        dry_runs,
        reports,
        tables,
        series,
        gardens,
        garden_joining,
        form_book,
        handbook,
        trainer,
        reference,
        demo,
    )
    for feature in features:
        app.include_router(feature.router)
    _serve_page(app, web)
    return app


def _document_problems(app: FastAPI) -> None:
    """Let the API's document say of its errors the content type they really have."""
    made = app.openapi

    def openapi() -> dict[str, Any]:
        if app.openapi_schema is None:
            for methods in made()["paths"].values():
                for operation in methods.values():
                    for status, answer in operation["responses"].items():
                        content = answer.get("content", {})
                        if status >= "400" and "application/json" in content:
                            content["application/problem+json"] = content.pop("application/json")
        assert app.openapi_schema is not None
        return app.openapi_schema

    app.openapi = openapi  # type: ignore[method-assign]  # FastAPI's own way to change it


def _built(web: Path) -> str:
    """When the page was built, as its build wrote it down; "" where there is none."""
    file = web / "built.txt"
    return file.read_text().strip() if file.is_file() else ""


def _serve_page(app: FastAPI, web: Path) -> None:
    if (web / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=web / "assets"))

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str, request: Request) -> Response:
        if path.startswith("api/"):
            raise NotFound("There is no such address here.")
        named = (web / path).resolve()
        if path and named.is_file() and named.is_relative_to(web.resolve()):
            return FileResponse(named)
        index = web / "index.html"
        if not index.is_file():
            raise NotFound("The page is not built yet: run “make demo” or “make start”.")
        return FileResponse(index, headers={"Cache-Control": "no-cache"})
