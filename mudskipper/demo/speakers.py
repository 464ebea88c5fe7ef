"""*Speakers*: the lower third of the festival's talks, and its table of forty names; three of them need a look."""

from __future__ import annotations

from ..core.document.scene import Scene
from ..core.document.slots import Row
from ..starters import lower_third

NAMES = """
Ines Okafor-Lind|Intertidal ecologist
Bram Tidesley|Harbour pilot
Marguerite-Anne Quellstrand-Ottosen of the Northern Estuary Archive and Reading Room|Head of the estuary archive
Ole Brackwater|Ferry captain
Ada Saltmarsh|Tide table reader
Joris Mudlark|Finder of old anchors
Yara Eelgrass|Seagrass gardener
Tomas Pierpoint|Keeper of the old jetty
Wen Sandhopper|Counts sandhoppers
Liv Oysterholm|Oyster farmer
Noor Ebbinghouse|Lantern maker
Piet Cockle|Cockle raker
Elif Samphire|Cook
Anselm Longshore|Lifeboat cook
Mara Whelk|Shell collector
Idris Spindrift|Kite builder
Greta Wadworth|Mudflat guide
Kofi Marram|Dune warden
Solveig Neap|Reads the gauge at night
Bram Tidesley|Harbour pilot
Hana Curlew|Bird counter
Emre Dunlin|Bird counter
Clara Redshank|Referee of the bird race
Matti Sprat|Net mender
Rosa Driftwood|Boat painter
Jonas Barnacle|Diver
Amina Shallows|Teacher
Finn Kelpsted|Kelp dryer
Thea Groyne|Builds groynes
Luca Periwinkle|Harbour choir
Sanne Swash|Swimming teacher
Omar Fathom|Sounds the channel
Berit Foreland|Lighthouse guide
Niko Estuarson|Writes the tide diary
Pia Leeward|Sail maker
Hugo Brine|Salt maker
Dora Tidewell|Mayor of the mudflats
Arno Gullinson|Feeds no gulls
Vera Slackwater|Poet
Ines Okafor-Lind, again in the evening|Intertidal ecologist
""".strip()
COLOURS = {4: "#2b7f7a", 12: "#7a1f4b", 21: "#8a4b12", 33: "fbf3e2"}
"""Plates in other colours, by row; on the last of them nobody reads the name."""


def speakers() -> Scene:
    """The lower third with its rows."""
    made = lower_third()
    ids = {slot.name: slot.id for slot in made.slots}
    rows = []
    for number, line in enumerate(NAMES.split("\n"), 1):
        name, role = line.split("|")
        cells = [{"slot": ids["Name"], "text": name}, {"slot": ids["Role"], "text": role}]
        if number in COLOURS:
            cells.append({"slot": ids["Plate"], "text": COLOURS[number]})
        rows.append(Row.model_validate({"cells": cells}))
    return made.model_copy(update={"name": "Speakers", "rows": tuple(rows)})
