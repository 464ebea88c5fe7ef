import type { Edit, KeyRef } from "../api/client";
import { foundKeys, keyFrames, keyOf, SAME, tracksOf } from "../document/tracks";
import type { Session } from "../session/session";
import { lastCopied, putCopied } from "../state/copied";
import { say, sayProblem } from "../state/page";
import { selection, setSelection } from "../state/selection";
import type { LooseKey } from "../state/tools";

export const sameKey = (a: KeyRef, b: KeyRef) =>
  a.layer === b.layer && a.property === b.property && Math.abs(a.frame - b.frame) < SAME;

export const counted = (keys: KeyRef[]) => (keys.length === 1 ? "1 key" : `${keys.length} keys`);

/** Select keys, and the layers they belong to. */
export const selectKeys = (keys: KeyRef[]) =>
  setSelection({ selected: [...new Set(keys.map((key) => key.layer))], keys, pathKey: null });

/** Select keys; with Shift, those not selected are added and those selected let go. */
export function pickKeys(refs: KeyRef[], adds: boolean): KeyRef[] {
  const { keys } = selection();
  const all = refs.every((ref) => keys.some((key) => sameKey(key, ref)));
  if (!adds) return all ? keys : refs;
  const others = keys.filter((key) => !refs.some((ref) => sameKey(ref, key)));
  return all ? others : [...others, ...refs];
}

/** Every key of a layer, of one property of it, or at one moment. */
export function keysOf(session: Session, id: string, property?: string, frame?: number): KeyRef[] {
  const layer = session.layer(id);
  if (!layer) return [];
  return Object.entries(tracksOf(layer))
    .filter(([name]) => property === undefined || name === property)
    .flatMap(([name, track]) => keyFrames(layer, track).map((at) => ({ layer: id, property: name, frame: at })))
    .filter((key) => frame === undefined || Math.abs(key.frame - frame) < SAME);
}

/** Edit keys in time, and select those that stand where `at` expects them, by the frames that the server gave. */
export async function retimeKeys(session: Session, keys: KeyRef[], edit: Edit, at: (frame: number) => number) {
  const wanted = keys.map((key) => ({ ...key, frame: at(key.frame) }));
  if (await session.edit(edit)) setSelection({ keys: foundKeys(session, wanted) });
}

/** Move keys in time, and keep them selected. */
export const moveKeys = (session: Session, keys: KeyRef[], by: number) =>
  retimeKeys(session, keys, { edit: "move_keys", keys, by }, (frame) => frame + by);

/** Stretch keys about a frame, and keep them selected. */
export const stretchKeys = (session: Session, keys: KeyRef[], about: number, factor: number) =>
  retimeKeys(session, keys, { edit: "retime_keys", keys, way: "stretch", about, factor, whole: true }, (frame) => {
    const to = about + (frame - about) * factor;
    return frame % 1 ? to : Math.floor(to + 0.5);
  });

export function deleteKeys(session: Session, keys: KeyRef[]) {
  void session.edit({ edit: "delete_keys", keys }).then((kept) => kept && say(`Deleted ${counted(keys)}.`, true));
  setSelection({ keys: [] });
}

/** Put keys on the clipboard, with their values and easings. */
export function copyKeys(session: Session, keys: KeyRef[]) {
  if (!keys.length) {
    sayProblem(new Error("Nothing to copy: select keys in the lanes first."));
    return;
  }
  const first = Math.min(...keys.map((key) => key.frame));
  const from = inOrder(session, [...new Set(keys.map((key) => key.layer))]);
  const loose = keys.flatMap((ref): LooseKey[] => {
    const key = keyOf(session, ref);
    if (!key) return [];
    const { leave, arrive } = key as { leave?: unknown; arrive?: unknown };
    const bent = leave || arrive ? { leave, arrive } : {};
    return [
      {
        property: ref.property,
        after: ref.frame - first,
        value: key.value,
        ease: key.ease,
        of: from.indexOf(ref.layer),
        ...bent,
      } as LooseKey,
    ];
  });
  putCopied({ kind: "keys", keys: loose, from });
  say(`Copied ${counted(keys)}${from.length > 1 ? ` of ${from.length} layers` : ""}.`);
}

/** Layers from the front to the back; shapes within a layer as they are given. */
function inOrder(session: Session, ids: string[]): string[] {
  const { order } = session.frames;
  return [...ids].sort((a, b) => order.indexOf(b) - order.indexOf(a));
}

/** Put the clipboard's keys down at the playhead, on the selected layers. */
export function pasteKeys(session: Session) {
  const clipboard = lastCopied();
  const { selected } = selection();
  if (clipboard?.kind !== "keys") {
    sayProblem(new Error("Nothing to paste: copy keys or layers first."));
    return;
  }
  const layers = selected.length ? inOrder(session, selected) : clipboard.from;
  const { frame } = session.frames;
  const edit: Edit = { edit: "paste_keys", beyond: false, layers, frame, keys: clipboard.keys };
  void session.edit(edit).then((kept) => {
    if (!kept) return;
    // Of keys of several layers each goes to its own; those of one to all.
    const several = clipboard.from.length > 1 && layers.length === clipboard.from.length;
    const wanted = clipboard.keys.flatMap(({ property, after, of }) =>
      (several ? [layers[of ?? 0]] : layers).map((layer) => ({ layer, property, frame: frame + after })),
    );
    setSelection({ keys: foundKeys(session, wanted) });
  });
}

/** The first and last frame of keys. */
export const spanOf = (keys: KeyRef[]): [number, number] => [
  Math.min(...keys.map((key) => key.frame)),
  Math.max(...keys.map((key) => key.frame)),
];
