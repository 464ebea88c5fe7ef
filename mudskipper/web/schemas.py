"""The shapes of requests and answers; the front end's types are generated from them."""

from __future__ import annotations

import json
from base64 import b64encode
from pathlib import Path
from typing import Annotated, Any, Literal

from fastapi import Request, Response
from pydantic import BaseModel, Field, TypeAdapter

from ..core.checks.not_showing import Reason
from ..core.document.scene import Scene
from ..core.edits.any_edit import AnyEdit
from ..core.edits.values_and_keys import Keys
from ..core.effects import Effect
from ..core.ground.base_model import Name
from ..core.ground.shown import Shown
from ..core.ground.time import FrameRate
from ..core.recipes import Recipe
from ..core.recipes.base import Phase
from ..core.recipes.fields import RecipeField, fields_of
from ..core.tracks.base import Track
from ..core.tracks.colour import Colour
from ..export.choices import PLAIN, Choices
from ..export.jobs import Exports, called
from ..media.clips import ClipFile, ClipFrames
from ..media.sounds import Sounds
from ..store.store import Head, Store
from ..store.tables import ClipRow, FontRow, Job, PictureRow
from .live import Hub


class SceneCard(BaseModel):
    """A scene in the list of projects; `fault` says why it cannot be read, where it cannot."""

    id: str
    name: str
    width: int
    height: int
    frame_rate: tuple[int, int]
    length: int
    revision: int
    poster: int
    fault: str = ""


class ProjectCard(BaseModel):
    """A project in the list."""

    id: str
    name: str
    scenes: list[SceneCard]


class NewProject(BaseModel):
    """A project to be made."""

    name: Name


class ProjectName(BaseModel):
    """What a project is to be called."""

    name: Name


class RemovedAnswer(BaseModel):
    """A project or scene that was removed and can be brought back; of a scene, the name of its project."""

    id: str
    kind: Literal["project", "scene"]
    name: str
    project: str


class NewScene(BaseModel):
    """A scene to be made."""

    name: Name
    width: Annotated[int, Field(strict=True, ge=1, le=16_384)]
    height: Annotated[int, Field(strict=True, ge=1, le=16_384)]
    frame_rate: FrameRate = (30, 1)
    length: Annotated[int, Field(strict=True, ge=1, le=1_000_000)] = 150
    background: Colour = "#00000000"


class Window(BaseModel):
    """What a window of the page holds: the document of a revision, `known`, and arrays for frames first…stop (not
    included), with or without `speeds`."""

    known: Annotated[int, Field(ge=0, le=2**53 - 1)]
    first: Annotated[int, Field(ge=0, le=10**6)]
    stop: Annotated[int, Field(ge=1, le=10**6)]
    speeds: bool = False


class EditRequest(BaseModel):
    """Edits to be applied as one step. `client` is sent to the other windows with the revision.

    A request that is sent again with the same `token`, since its answer was lost, is not applied twice. Requests that
    follow one another with the same `run`, such as the steps of a nudge, are one step to undo where they are alike.
    """

    edits: Annotated[list[AnyEdit], Field(min_length=1, max_length=1_000)]
    client: str = ""
    token: Annotated[str, Field(max_length=64)] | None = None
    run: Annotated[str, Field(max_length=64)] | None = None
    window: Window | None = None
    """Where it is given, the answer brings what this window needs, and no more."""


class MeasuresAnswer(BaseModel):
    """Of a frame: how many pixels of each column have each of so many `levels` of brightness, column after column; and
    how many have each level of red, green and blue."""

    waveform: list[int]
    levels: int
    histogram: list[list[int]]


class StripsAnswer(BaseModel):
    """Runs of frames, first and last, at which a layer is there and does not cover, null where it cannot cover; and how
    far its anchor goes in a second, in scene pixels, the fastest of each `step` frames."""

    bare: list[tuple[int, int]] | None
    step: int
    speeds: list[float]


class OfferAnswer(BaseModel):
    """Something said after a change, with the edits that a press of a button makes."""

    sentence: str
    button: str
    edits: list[dict[str, Any]]


class SceneAnswer(BaseModel):
    """A scene as it stands after a request; `changed` is counted from the revision `base`.

    To a window that holds that revision it brings the layers that changed alone, and the ids of all in their `order`;
    and their resolved arrays, MessagePack in base64, where these are not too many.
    """

    scene: Scene
    order: list[str] | None = None
    arrays: str | None = None
    revision: int
    project: str
    undo: str | None
    redo: str | None
    said: str = ""
    notices: list[str] = []
    changed: list[str] = []
    base: int = 0
    offer: OfferAnswer | None = None


class PlaceAnswer(BaseModel):
    """Where a frame of an inner scene is seen in the one that shows it: when, and the matrix to its pixels."""

    frame: int
    matrix: tuple[float, float, float, float, float, float]


class FindingAnswer(BaseModel):
    """What a check found, the edits that mend it, and what is drawn of it at its frame: areas and lines of points in
    scene pixels. `parts` mends all parts of its shot, `left` says that the layer leaves it as it is."""

    check: str
    layer: str
    frame: int
    figure: float
    sentence: str
    edits: list[dict[str, Any]]
    parts: list[dict[str, Any]]
    areas: list[list[tuple[float, float]]]
    lines: list[list[tuple[float, float]]]
    left: bool


class UnseenAnswer(BaseModel):
    """A layer of which nothing shows at a frame: why, and the edits that mend it or the frame at which it shows."""

    layer: str
    frame: int
    reason: Reason
    sentence: str
    edits: list[dict[str, Any]]
    go: int | None


class KeyValuesRequest(BaseModel):
    """Edits that are only tried, and the keys whose values are wanted."""

    edits: Annotated[list[AnyEdit], Field(min_length=1, max_length=1_000)]
    keys: Keys


class KeyValuesAnswer(BaseModel):
    """The values of the keys asked for, in their order, before the edits and after them: a number, a pair, a colour;
    null for a key that is not there."""

    before: list[float | str | tuple[float, ...] | None]
    after: list[float | str | tuple[float, ...] | None]
    notices: list[str]


class TimeAnswer(BaseModel):
    """The frame, or the number of frames, that a typed time tells."""

    frame: float


class StepAnswer(BaseModel):
    """A step of the history."""

    revision: int
    words: str
    made_at: str
    here: bool


class HistoryAnswer(BaseModel):
    """Some steps of the history, from `first` on, of `total`; the scene stands at the step `here`."""

    first: int
    total: int
    here: int
    steps: list[StepAnswer]


class AnchorNumbers(BaseModel):
    """The anchor in layer pixels and as fractions of the box."""

    layer: tuple[float, float]
    fraction: tuple[float, float]


class PointNumbers(BaseModel):
    """A station in both spaces, and the arm from the anchor to it: in the layer, and turned and scaled."""

    station: str
    layer: tuple[float, float]
    arm: tuple[float, float]
    turned: tuple[float, float]
    scene: tuple[float, float]
    carried: tuple[float, float] | None = None
    """Where it stands in the pixels of the layer that carries its layer."""


class Explanation(BaseModel):
    """Both coordinate spaces and the sum; `linear` is R·S. `place` is where the anchor stands in the scene;
    `carrier` is the name of the layer in whose pixels `position` is, None for the scene's."""

    frame: float
    box: tuple[float, float, float, float]
    anchor: AnchorNumbers
    position: tuple[float, float]
    scale: tuple[float, float]
    rotation: float
    linear: tuple[tuple[float, float], tuple[float, float]]
    points: list[PointNumbers]
    sum: str
    carrier: str | None = None
    carrier_matrix: tuple[float, float, float, float, float, float] | None = None
    place: tuple[float, float]


class UnitFacts(BaseModel):
    """A unit of a cascade: when it begins, in frames from the layer's start, its place in the order (0…1), its box and
    its anchor in the layer's pixels."""

    begins: float
    place: float
    box: tuple[float, float, float, float]
    anchor: tuple[float, float]
    strength: float
    """How strongly it takes part, 0…1."""


class CascadeFacts(BaseModel):
    """A cascade at a frame: how many units it has, its times in frames (`overlap` is None where all move at once),
    and the first 600 of its units in reading order."""

    count: int
    stagger: float
    overlap: float | None
    total: float
    units: list[UnitFacts]


class PictureAnswer(BaseModel):
    """A picture of a project."""

    id: str
    name: str
    width: int
    height: int
    removed: bool = False
    """Whether it was taken out of the list of media."""


class FontAnswer(BaseModel):
    """A face of a font that a project has of its own: the name of the file that it came in, and its family."""

    id: str
    name: str
    family: str
    weight: int | None
    """None where it has an axis of weights."""
    italic: bool
    embeds: bool
    """Whether its maker lets it be given out with documents and pages."""
    removed: bool = False


class ProjectFonts(BaseModel):
    """The fonts that a project has of its own, and the families that they make."""

    fonts: list[FontAnswer]
    families: list[FamilyAnswer]
    used: list[str]
    """The families that its scenes are set in."""


def font_answer(row: FontRow) -> FontAnswer:
    """A font as the page is told of it."""
    facts = json.loads(row.facts)
    return FontAnswer(
        id=row.id, name=row.name, family=facts["family"], weight=facts["weight"], italic=facts["italic"],
        embeds=facts["embeds"], removed=row.removed,
    )  # fmt: skip


class DecodingAnswer(BaseModel):
    """How many files wait until there is memory to decode them."""

    waiting: int


class ClipAnswer(BaseModel):
    """A clip of a project. `rate` is [frames, seconds], and null where its frames have their own times; `length` is in
    seconds; `missing` says that its file is not there."""

    id: str
    name: str
    width: int
    height: int
    count: int
    rate: tuple[int, int] | None
    length: float
    alpha: bool
    sound: bool
    codec: str
    missing: bool
    note: str = ""
    found_again: bool = False
    """Whether its file was missing, and is there again with what was sent."""
    removed: bool = False
    """Whether it was taken out of the list of media."""


class SourceAnswer(BaseModel):
    """Frames of a source, −1 where none is shown, and the scene frames at which it begins or ends."""

    frames: list[int]
    ends: list[int]


class ExportRequest(BaseModel):
    """Frames first…stop (not included) to be exported; the file is called `name`, or after the scene."""

    kind: Annotated[str, Field(max_length=40)]
    first: int
    stop: int
    name: Annotated[str, Field(max_length=120)] = ""
    choices: Choices = PLAIN


class ExportAnswer(BaseModel):
    """An export job."""

    id: str
    scene: str
    kind: str
    state: Literal["queued", "running", "done", "failed", "cancelled"]
    done: int
    total: int
    failure: str
    file: str
    """What the finished file is called."""
    notes: str
    """What the file could not keep, in words."""
    batch: str
    """What the titles of a table that were started together have in common; empty for others."""
    row: str
    """The row of the table that it is a title of."""


class FontFileAnswer(BaseModel):
    """A file of a family: its address, its slant, and from which weight to which it goes."""

    address: str
    italic: bool
    weights: tuple[int, int]


class AxisAnswer(BaseModel):
    """An axis of a variable font, with its least, its own and its largest value."""

    tag: str
    name: str
    low: float
    rest: float
    high: float


class InstanceAnswer(BaseModel):
    """A named style of a variable font: the values of its axes by their tags."""

    name: str
    values: dict[str, float]


class FamilyAnswer(BaseModel):
    """A font family: its weights, what it is counted among, such as serif, the scripts that it has letters for, such as
    arabic, its files, its axes and named styles."""

    name: str
    weights: list[int]
    italic: bool
    kinds: list[str]
    scripts: list[str]
    files: list[FontFileAnswer]
    axes: list[AxisAnswer]
    instances: list[InstanceAnswer]
    features: list[str]
    """What its letters can be asked to do, by name."""


class PropertyFacts(BaseModel):
    """How a property is shown: its label, what it is a part of where that is one of several (a shape, a stop) and
    whether it is told which even of the first, its unit, parts, the colour role it has everywhere, a scrub's step, its
    range."""

    label: str
    noun: str
    told: bool
    unit: str
    parts: tuple[str, ...]
    role: str
    step: float
    linked: bool
    low: float | None
    high: float | None

    @classmethod
    def of(cls, about: Shown) -> PropertyFacts:
        """The facts in an annotation."""
        return cls(**{name: getattr(about, name) for name in cls.model_fields})


class FormatFacts(BaseModel):
    """A format of files: its name and suffix, among which it is offered, what it holds, and what it is good for, by the
    scene's ground."""

    label: str
    suffix: str
    group: Literal["film", "moving picture", "sequence", "still", "sound", "web", "edit"]
    takes: tuple[str, ...]
    """The choices that it heeds."""
    still: bool
    alpha: bool
    sound: bool
    note: str
    transparent_note: str


class RecipeFacts(BaseModel):
    """A recipe: what it is for and does, the few numbers that it takes, and those of them that make up its length."""

    name: str
    phase: Phase
    sentence: str
    lasts: tuple[str, ...]
    together: int
    fields: list[RecipeField]

    @classmethod
    def of(cls, kind: type[Recipe]) -> RecipeFacts:
        """The facts of a kind of recipe."""
        sentence = (kind.__doc__ or "").strip()
        name = kind.model_fields["recipe"].default
        return cls(name=name, phase=kind.phase, sentence=sentence, lasts=kind.lasts, together=kind.together,
                   fields=fields_of(kind))  # fmt: skip


class EffectField(BaseModel):
    """What an effect has that is no property: a switch, a whole number, a curve by its name, or drawn, stops."""

    name: str
    label: str
    kind: Literal["switch", "whole", "curve", "stops", "drawn"]
    low: int | None = None
    high: int | None = None
    default: Any


class EffectFacts(BaseModel):
    """A kind of effect: what it is called, by which words it is found, which of its properties are points in percent of
    the box, and what it has besides."""

    label: str
    words: str
    points: tuple[str, ...]
    fields: list[EffectField]

    @classmethod
    def of(cls, kind: type[Effect]) -> EffectFacts:
        """The facts of a kind of effect."""
        found = []
        for name, field in kind.model_fields.items():
            about = next((one for one in field.metadata[::-1] if isinstance(one, Shown)), None)
            default = field.default
            if about is None or isinstance(default, Track):
                continue
            switch, several = isinstance(default, bool), isinstance(default, tuple)
            listed = "stops" if default else "drawn"
            one = "whole" if isinstance(default, int) else "curve"
            which: Any = "switch" if switch else listed if several else one
            schema = TypeAdapter(field.rebuild_annotation()).json_schema() if which == "whole" else {}
            given = TypeAdapter(field.rebuild_annotation()).dump_python(default, mode="json")
            low, high = schema.get("minimum"), schema.get("maximum")
            found.append(EffectField(name=name, label=about.label, kind=which, low=low, high=high, default=given))
        return cls(label=kind.label, words=kind.words, points=kind.points, fields=found)


class ContentFacts(BaseModel):
    """What a kind of content is: whether there is anything to be seen of it, whether it stands anywhere in the scene,
    and whether it has a source that runs in a time of its own."""

    shows: bool
    placed: bool
    runs: bool


class Facts(BaseModel):
    """What the interface must know of the rules: fonts, properties, formats.

    `properties` go by the pattern of their path: without numbers, and with the kind of each part that `tags` tell
    apart: `content:shape.items:rectangle.corners`.
    """

    properties: dict[str, PropertyFacts]
    tags: list[str]

    fonts: list[FamilyAnswer]
    fallbacks: list[str]
    features: dict[str, tuple[str, ...]]
    """The features of fonts (OpenType 1.9) that names stand for; a `-` in front switches one off."""
    """Families in the order in which they are looked through for a letter that a text's own has not."""
    formats: dict[str, FormatFacts]
    blends: list[str]
    contents: dict[str, ContentFacts]
    effects: dict[str, EffectFacts]
    """What each kind of effect is called."""
    recipes: list[RecipeFacts]
    easings: dict[str, tuple[float, float, float, float]]
    safe: dict[str, float]
    password: bool
    """Whether the server asks for one, so that there is a session to end."""


def scene_answer(
    head: Head,
    said: str = "",
    notices: tuple[str, ...] = (),
    changed: tuple[str, ...] = (),
    base: int = 0,
    status: int = 200,
    offer: OfferAnswer | None = None,
    only: set[str] | None = None,
    arrays: bytes | None = None,
) -> Response:
    """A SceneAnswer to a request that leaves a scene at `head`, with the document as it is written already, or `only`
    some of its layers."""
    rest = SceneAnswer.model_construct(
        revision=head.revision, project=head.project_id, undo=head.undo_words, redo=head.redo_words, said=said,
        notices=list(notices), changed=list(changed), base=base, offer=offer,
        scene=head.scene, order=None if only is None else [layer.id for layer in head.scene.layers],
        arrays=None if arrays is None else b64encode(arrays).decode(),
    ).model_dump_json(exclude={"scene"})  # fmt: skip
    body = f'{rest[:-1]},"scene":{head.scene.to_json(only)}}}'
    return Response(body, status, media_type="application/json")


def picture_answer(row: PictureRow) -> PictureAnswer:
    """A picture's answer."""
    return PictureAnswer(id=row.id, name=row.name, width=row.width, height=row.height, removed=row.removed)


def clip_answer(row: ClipRow, file: ClipFile) -> ClipAnswer:
    """A clip's answer."""
    facts = {name: value for name, value in file.known.items() if name in ClipAnswer.model_fields}
    missing = not Path(file.path).is_file()
    return ClipAnswer(id=row.id, name=row.name, missing=missing, removed=row.removed, **facts)


def export_answer(row: Job) -> ExportAnswer:
    """A job's answer."""
    return ExportAnswer(
        id=row.id, scene=row.scene_id, kind=row.kind, state=row.state, done=row.done,
        total=row.total, failure=row.failure, file=called(row), notes=row.notes, batch=row.batch, row=row.row,
    )  # fmt: skip


def store_of(request: Request) -> Store:
    """The store of this server."""
    store: Store = request.app.state.store
    return store


def exports_of(request: Request) -> Exports:
    """The exports of this server."""
    exports: Exports = request.app.state.exports
    return exports


def clip_frames_of(request: Request) -> ClipFrames:
    """The decoders of clips."""
    frames: ClipFrames = request.app.state.clip_frames
    return frames


def sounds_of(request: Request) -> Sounds:
    """The samples of clips."""
    sounds: Sounds = request.app.state.sounds
    return sounds


def hub_of(request: Request) -> Hub:
    """The windows that listen."""
    hub: Hub = request.app.state.hub
    return hub
