"""What must hold for any motion at all: generated keys of every kind on every property."""

from __future__ import annotations

from typing import Any

import numpy as np
from hypothesis import HealthCheck, assume, given
from hypothesis import strategies as st

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.read import read_scene
from mudskipper.core.document.scene import Scene
from mudskipper.core.resolve.resolved import ResolveCache, resolve
from tests.conftest import cases, layer, scene
from tests.core.test_edits import done
from tests.core.test_motion import motion

eases = st.one_of(
    st.sampled_from(["linear", "ease", "ease-in", "ease-in-out", "hold"]),
    st.tuples(st.floats(0, 1), st.floats(-0.5, 1.5), st.floats(0, 1), st.floats(-0.5, 1.5)).map(
        lambda numbers: {"bezier": numbers}
    ),
    st.sampled_from(
        [
            {"steps": 3},
            {"overshoot": 20.0},
            {"bounce": {}},
            {"spring": {"response": 0.4}},
            {"points": [[0, 0], [0.4, 1.2], [1, 1]]},
        ]
    ),
)


@st.composite
def tracks(draw: Any, value: Any, curved: bool = False) -> dict[str, Any]:
    """A track with up to four keys at whole frames within the span."""
    frames = sorted(draw(st.sets(st.integers(0, 59), max_size=4)))
    keys = [{"frame": frame, "value": draw(value), "ease": draw(eases)} for frame in frames]
    if curved and draw(st.booleans()):
        for key in keys:
            key |= {"leave": draw(pairs(-80, 80)), "arrive": draw(pairs(-80, 80))}
    return {"rest": draw(value), "keys": keys}


def pairs(low: float, high: float) -> Any:
    number = st.floats(low, high).map(lambda n: round(n, 2))
    return st.tuples(number, number)


@st.composite
def motions(draw: Any, curved: bool = True) -> Scene:
    """A layer whose anchor, position, scale and rotation all move."""
    return scene(
        layer(
            anchor=draw(tracks(pairs(-1, 2))),
            position=draw(tracks(pairs(-200, 900), curved)),
            scale=draw(tracks(pairs(10, 200))),
            rotation=draw(tracks(st.floats(-400, 400).map(lambda n: round(n, 1)))),
        )
    )


def moved(edit: str, **fields: Any) -> dict[str, Any]:
    return {"edit": edit, "layer": "plate", **fields}


@cases(60)
@given(made=motions(), to=pairs(-1, 2), frame=st.integers(0, 59))
def test_throughout_holds_every_frame(made: Scene, to: Any, frame: int) -> None:
    """Within 0.05 px at every corner and frame, whatever moves."""
    after = done(made, moved("move_anchor", frame=frame, to={"fraction": to}, scope="throughout")).scene
    assert np.abs(motion(after) - motion(made)).max() < 0.05


@cases(60)
@given(made=motions())
def test_split_and_join_are_one(made: Scene) -> None:
    """x and y apart, and together again: no corner moves by 0.02 px."""
    apart = done(made, moved("split_position")).scene
    assert np.abs(motion(apart) - motion(made)).max() < 0.02
    assert np.abs(motion(done(apart, moved("join_position")).scene) - motion(made)).max() < 0.03


@cases(60)
@given(made=motions())
def test_pinned_and_fixed_are_one(made: Scene) -> None:
    fixed = done(made, moved("pin_anchor", pinned=False)).scene
    again = done(fixed, moved("pin_anchor", pinned=True)).scene
    assert np.abs(motion(fixed) - motion(made)).max() < 1e-6
    assert np.abs(motion(again) - motion(made)).max() < 1e-6


@cases(60, suppress_health_check=[HealthCheck.filter_too_much])
@given(made=motions(curved=False), factor=st.floats(0.2, 3), about=st.integers(0, 59))
def test_stretched_and_back_is_one(made: Scene, factor: float, about: int) -> None:
    """Where there is room for it; else it is refused and nothing changes."""
    frames = [key.frame for key in made.layers[0].rotation.keys]
    assume(frames and all(0 <= about + (frame - about) * factor < 60 for frame in frames))
    there = [about + (frame - about) * factor for frame in frames]

    def stretched(times: list[float], by: float) -> dict[str, Any]:
        keys = [{"layer": "plate", "property": "rotation", "frame": time} for time in times]
        return {"edit": "retime_keys", "keys": keys, "way": "stretch", "about": about, "factor": by}

    wide = done(made, stretched(frames, factor)).scene
    found = [key.frame for key in wide.layers[0].rotation.keys]
    assert np.allclose(found, there)
    back = done(wide, stretched(found, 1 / factor)).scene
    assert [key.frame for key in back.layers[0].rotation.keys] == frames


@cases(60)
@given(made=motions(), first=st.integers(0, 40), count=st.integers(1, 20))
def test_a_slice_and_a_cache_change_nothing(made: Scene, first: int, count: int) -> None:
    """A slice resolves as the slice of the whole; a cache gives the very same arrays; JSON gives the same scene."""
    whole = resolve(made, np.arange(60), NO_MEDIA).layers["plate"]
    frames = np.arange(first, first + count)
    cache = ResolveCache()
    part = resolve(made, frames, NO_MEDIA, cache).layers["plate"]
    wanted = np.broadcast_to(whole.matrix, (60, 6))[frames]
    assert np.array_equal(np.broadcast_to(part.matrix, (count, 6)), wanted)
    renamed = done(made, {"edit": "set_scene", "name": "Other"}).scene
    assert resolve(renamed, frames, NO_MEDIA, cache).layers["plate"] is part
    assert read_scene(made.to_json()) == made
