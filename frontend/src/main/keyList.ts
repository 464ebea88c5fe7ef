/** A line of the list behind `?`: keys between back quotes are drawn as key caps. */
export type KeyLine = [keys: string, does: string];

/** Every key and gesture, by what it is for. */
export const KEY_LIST: [title: string, lines: KeyLine[]][] = [
  [
    "Time",
    [
      ["`Space`", "Play or pause"],
      ["`,` `.`", "One frame back, one frame on (Shift: ten)"],
      ["`[` `]`", "Previous and next pose of the selected layer"],
      ["`Alt` + `1` … `9`", "The pose with that number"],
      ["`{` `}`", "Previous and next beat"],
      ["`Home` `End`", "First and last frame"],
      ["`G`", "Go to a time (`+12`, `1:10`), a beat or a layer by its name"],
      ["`Alt` + `,` `.`", "Where a layer begins or ends: the one before, the next"],
      ["`Shift` + `Home` `End`", "Start and end of the range that is looped, at the playhead"],
      ["`1` `2` `3`", "Full, half and quarter speed"],
      ["`L`", "Loop"],
      ["`B`", "A beat at the playhead, also while playing"],
    ],
  ],
  [
    "Anchor",
    [
      ["`Q` held, drag", "Move the anchor, the picture stays put"],
      ["`W` held, drag", "Slide the picture under its anchor, which stays put"],
      ["`A` held, drag", "Move the content behind its masks or its crop, which stay; so do anchor and path"],
      ["`Q` + digit of the number pad", "The anchor to the station in that place"],
      [
        "`Q` `W` `A` held, arrows",
        "Nudge the anchor, the picture under it, the content in its window, by 1 px (Shift: 10)",
      ],
    ],
  ],
  [
    "Keys and spans",
    [
      ["`K`", "Key the pose: the chosen properties of the selected layers, here"],
      ["`I` `O`", "Bring the selected layers in, take them out, as was done last: here they have landed, or leave"],
      ["`T`", "Keys of the selected layer as numbers, or as cards"],
      [
        "In the table of keys",
        "Type into a cell: `+10` and `*1.1` go on from what is there, and to all that is selected; `Enter` and `Tab` go on, `F2` edits, `Ctrl` `D` fills down, `Delete` deletes keys; cells are copied and pasted from and to a spreadsheet",
      ],
      ["`Alt` + `←` `→`", "Move the selected keys by a frame (Shift: ten)"],
      [
        "`Ctrl` `C`, `Ctrl` `V`",
        "Copy the selected keys, or else the layers; paste keys at the playhead, layers into any scene",
      ],
      ["`E` `Y`", "Edit the values, the easing of the selected keys"],
      ["`X`", "Split the selected layers at the playhead"],
      ["`Alt` + drag on a span", "Slip its keys under it"],
      ["`Ctrl` + wheel on the lanes", "Widen them about the pointer; Shift and the wheel go along"],
    ],
  ],
  [
    "On the stage",
    [
      [
        "`D`",
        "Draw a shape, a line, a text box or a mask: drag, or type its size (Shift: as high as wide; Alt: from the middle)",
      ],
      ["Arrows", "Nudge the selected layers by 1 px (Shift: 10)"],
      ["Handles of the box", "Scale, or size, about the anchor (Shift: in proportion)"],
      ["The ring outside the box", "Turn; turns are counted (Shift: steps of 15°)"],
      ["Drag on the empty stage", "Select what the frame touches (Shift adds)"],
      ["Keys of the path", "Drag them; click one for its handles (Alt: one handle alone)"],
      ["`Ctrl` while dragging", "Let go of the magnet"],
      ["`Shift` while dragging", "One axis only"],
      ["`M`", "Magnet on or off"],
      ["`P`", "Draw a path: click for corners, drag for curves; the first point closes it, Enter or Esc ends it"],
      [
        "`Enter`, or a double click on a path",
        "Edit its points: drag, twice for smooth or corner, twice on the outline adds",
      ],
      ["`Enter`, or a double click on a text", "Edit it where it stands; Ctrl Enter takes, Esc gives back"],
      ["`Enter`, or a second double click", "Go into the selected shape layer or group; Esc comes out"],
    ],
  ],
  [
    "Layers",
    [
      ["`N` `Shift` + `N`", "Select the next layer, the one before"],
      ["`Ctrl` `A`", "Select every layer that is not locked"],
      ["`Ctrl` `D`", "Duplicate the selected layers"],
      ["`S`", "Solo the selected layers; again: all"],
      ["`F2`", "Rename the selected layer"],
      ["`Delete`", "Delete the selected keys, else the selected layers"],
      ["`Ctrl` `Z`, `Ctrl` `Shift` `Z`", "Undo, redo"],
    ],
  ],
  [
    "View",
    [
      ["`C` held", "With the effects of what is selected and without, wiped at the pointer"],
      ["`F`", "The picture over the whole window, and back"],
      ["`Ctrl` + wheel, `+` `−`", "Zoom about the pointer, about the middle of the view"],
      ["`0` `9` `Z`", "Fit the scene; 100 %; zoom to the selection"],
      ["Wheel, middle button, `H` held", "Pan"],
    ],
  ],
  [
    "The page",
    [
      ["`Esc`", "Give a gesture back; then: out of a layer; then: select nothing"],
      ["`Tab`", "On to the next control"],
      ["`F6` `Shift` + `F6`", "On to the next part of the page, back to the one before: stage, panel, poses, lanes, …"],
      ["`Alt` + `S` `L` `O` `P`", "The keyboard to the stage, the lanes, the poses, the panel"],
      ["In a number", "Drag to scrub; type a sum, or +10, *1.5; ↑ ↓ step (Shift ×10, Alt ×0.1)"],
      ["`Enter` `Esc` in a field", "Take what was typed, or give it back; then the stage has the keyboard"],
      ["`Enter` `Esc` on a recipe", "Take it, or go back to the recipes"],
      ["`Ctrl` `K`", "Find anything: a command, a property (`rotation 45`), a layer, a recipe, an effect, a font"],
      ["`?`", "This list"],
    ],
  ],
];

const plain = (text: string) => text.replaceAll("`", "").toLowerCase();

/** The lines that hold each of some words, in the keys or in what they do; a section by its title holds all of its lines. */
export function foundIn(words: string): typeof KEY_LIST {
  const asked = plain(words).split(/\s+/).filter(Boolean);
  return KEY_LIST.map(([title, lines]): (typeof KEY_LIST)[number] => [
    title,
    lines.filter((line) => {
      const text = plain(`${title} ${line.join(" ")}`);
      return asked.every((word) => text.includes(word));
    }),
  ]).filter(([, lines]) => lines.length > 0);
}
