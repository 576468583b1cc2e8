"""Meshes, prepared pieces, parts and colours over HTTP; arrays travel as bytes."""

from __future__ import annotations

import time

from flask import Response, request, send_file
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from haze.core.mesh.frame import UpAxis
from haze.core.plan.document import MOST_COATS
from haze.core.plan.piece import Piece
from haze.demo import saltgate
from haze.demo.stand_ins import StandIn, StandInList, picture, stand_in, stand_ins
from haze.service.bench import Bench
from haze.service.forms.wire import Digest, PlanBody, Strict
from haze.service.piece import meshes
from haze.service.piece.looks import Look
from haze.service.piece.meshes import MeshTaken, MeshView
from haze.service.piece.parts import AdviceList, PartList, SplitBody, split
from haze.service.piece.picture import drawn
from haze.service.plan.plans import PlanView
from haze.service.work.jobs import JobView
from haze.web.jobs import JobPath
from haze.web.problems import Problem
from haze.web.routes import route_group

BYTES = "application/octet-stream"


class MeshPath(BaseModel):
    mesh_id: Digest


class KeyPath(BaseModel):
    key: Digest


class StandInPath(BaseModel):
    identity: str = Field(max_length=40)


class SizeQuery(BaseModel):
    """One of the usual sizes of a stand-in; none for its own."""

    size: str | None = Field(default=None, max_length=40)


class UploadQuery(BaseModel):
    name: str = Field(min_length=1, max_length=200)


class UpQuery(BaseModel):
    up: UpAxis = "z"


class Standing(BaseModel):
    """The job that prepares a mesh one way up; null when it is ready."""

    job: JobView | None


class PrepareBody(Strict):
    piece: Piece


class Prepared(BaseModel):
    """The piece's key; `job` is the one that makes it, null when it is ready."""

    key: str
    job: JobView | None


class MeshList(BaseModel):
    meshes: list[MeshView]


class ColoursBody(PlanBody):
    """Colours of a plan after its first `after` coats; 0 is the bare piece.

    `fine` tells textured steps apart, for a piece that rests; while something moves their means do.
    """

    after: int = Field(ge=0, le=MOST_COATS)
    look: Look = "as_painted"
    fine: bool = False


def piece_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes for meshes, pieces, parts and colours."""
    api = route_group("piece", documented=documented)
    _take_meshes(api, bench)
    _show_pieces(api, bench)
    return api


def _take_meshes(api: APIBlueprint, bench: Bench) -> None:
    """Meshes and stand-ins."""

    @api.get("/meshes", responses={200: MeshList})
    def list_meshes() -> MeshList:
        return MeshList(meshes=meshes.every(bench.db))

    @api.post("/meshes", responses={200: JobView, 413: Problem})
    def send_mesh(query: UploadQuery) -> JobView:
        return bench.take_mesh(request.stream, name=query.name)

    @api.get("/meshes/taken/<job_id>", responses={200: MeshTaken})
    def mesh_taken(path: JobPath) -> MeshTaken:
        return bench.jobs.result(path.job_id, MeshTaken)

    @api.post("/meshes/<mesh_id>/stand", responses={200: Standing})
    def stand_mesh(path: MeshPath, query: UpQuery) -> Standing:
        return Standing(job=bench.stand(path.mesh_id, query.up))

    @api.get("/meshes/<mesh_id>/picture.png", responses={200: None})
    def mesh_picture(path: MeshPath, query: UpQuery) -> Response:
        return Response(bench.standing_picture(path.mesh_id, query.up), mimetype="image/png")

    @api.get("/meshes/<mesh_id>/file", responses={200: None})
    def mesh_file(path: MeshPath) -> Response:
        return send_file(meshes.opened(bench.db, path.mesh_id), mimetype=BYTES)

    @api.post("/demo", responses={201: PlanView})
    def open_demo() -> tuple[PlanView, int]:
        return saltgate.load(bench.db), 201

    @api.get("/stand-ins", responses={200: StandInList})
    def list_stand_ins() -> StandInList:
        return stand_ins()

    @api.post("/stand-ins/<identity>", responses={201: StandIn})
    def use_stand_in(path: StandInPath, query: SizeQuery) -> tuple[StandIn, int]:
        return stand_in(bench.db, path.identity, size=query.size), 201

    @api.get("/stand-ins/<identity>/picture.webp", responses={200: None})
    def stand_in_picture(path: StandInPath) -> Response:
        return Response(
            picture(path.identity),
            mimetype="image/webp",
            headers={"Cache-Control": "private, max-age=86400"},
        )


def _show_pieces(api: APIBlueprint, bench: Bench) -> None:
    """Prepared pieces: shape, colours and parts."""

    @api.post("/pieces", responses={200: Prepared})
    def prepare_piece(body: PrepareBody) -> Prepared:
        meshes.require(bench.db, body.piece.mesh)
        key, job = bench.prepare(body.piece)
        return Prepared(key=key, job=job)

    @api.get("/pieces/<key>/geometry", responses={200: None})
    def geometry(path: KeyPath) -> Response:
        data = bench.geometry(path.key)
        return Response(
            data, mimetype=BYTES, headers={"Cache-Control": "private, max-age=86400, immutable"}
        )

    @api.post("/colours", responses={200: None})
    def piece_colours(body: ColoursBody) -> Response:
        begun = time.perf_counter()
        on = bench.on(body.plan)
        data, layout = drawn(on, body.plan, after=body.after, look=body.look, fine=body.fine)
        took = (time.perf_counter() - begun) * 1e3
        return Response(
            data,
            mimetype=BYTES,
            headers={
                "X-Piece": on.piece.key,
                "X-Layout": layout.model_dump_json(),
                "Server-Timing": f"colours;dur={took:.1f}",
            },
        )

    @api.post("/parts/advice", responses={200: JobView})
    def advise(body: PlanBody) -> JobView:
        return bench.advise(body.plan)

    @api.get("/parts/advice/<job_id>", responses={200: AdviceList})
    def advice_found(path: JobPath) -> AdviceList:
        return bench.jobs.result(path.job_id, AdviceList)

    @api.post("/parts/split", responses={200: PartList})
    def split_part(body: SplitBody) -> PartList:
        return split(body, bench.on(body.plan))
