import type { Ease, KeyRef, Layer, Track } from "../api/client";

export const OWN = ["anchor", "position", "scale", "rotation", "opacity"] as const;

/** Two frames nearer than this are one, as in the core: after a change of rate keys stand between frames. */
export const SAME = 1e-6;

const isTrack = (value: unknown): value is Track => typeof value === "object" && value !== null && "rest" in value;

/** The path of a text that a formula writes: it has no keys and no numbers. */
export const WRITTEN = "content.written";

/** Every track of a layer by the name that edits use, but for such a text. */
export function tracksOf(layer: Layer): Record<string, Track> {
  const found: Record<string, Track> = {};
  for (const name of OWN) {
    const own = layer[name]!;
    if ("rest" in own) found[name] = own;
    else Object.assign(found, { "position.x": own.x, "position.y": own.y });
  }
  const walk = (value: unknown, path: string) => {
    if (path === WRITTEN) return;
    if (isTrack(value)) found[path] = value;
    else if (Array.isArray(value)) for (const [i, part] of value.entries()) walk(part, `${path}.${i}`);
    else if (typeof value === "object" && value !== null)
      for (const [name, part] of Object.entries(value)) walk(part, `${path}.${name}`);
  };
  walk(layer.content, "content");
  for (const [i, mask] of (layer.masks ?? []).entries()) walk(mask, `masks.${i}`);
  for (const [i, effect] of (layer.effects ?? []).entries()) walk(effect, `effects.${i}`);
  walk(layer.crop, "crop");
  walk(layer.framing, "framing");
  return found;
}

/** Whether a value is neither a number nor a pair: a colour, or the points of an outline. */
export const isPlain = (value: unknown) =>
  typeof value === "string" || (Array.isArray(value) && Array.isArray(value[0]));

/** Scene frames of a track's keys. */
export const keyFrames = (layer: Layer, track: Track): number[] =>
  (track.keys ?? []).map((key) => key.frame + layer.span.start);

/** The frames at which a layer has any key, in order. */
export function poseFrames(layer: Layer): number[] {
  const frames = Object.values(tracksOf(layer)).flatMap((track) => keyFrames(layer, track));
  frames.sort((a, b) => a - b);
  return frames.filter((frame, i) => i === 0 || frame - frames[i - 1] >= SAME);
}

export const isKeyed = (layer: Layer) => Object.values(tracksOf(layer)).some((track) => track.keys?.length);

interface Document {
  layer(id: string): Layer | undefined;
}

/** The key that a reference means; undefined where it is gone. */
export function keyOf(document: Document, ref: KeyRef) {
  const layer = document.layer(ref.layer);
  const keys = layer ? tracksOf(layer)[ref.property]?.keys : undefined;
  return keys?.find((key) => Math.abs(key.frame + layer!.span.start - ref.frame) < SAME);
}

/** The easing that begins at a key. */
export const easeOf = (document: Document, ref: KeyRef): Ease => keyOf(document, ref)?.ease ?? "linear";

/** The keys of the document that stand where references expect them, to a hundredth of a frame; those not found go. */
export function foundKeys(document: Document, refs: KeyRef[]): KeyRef[] {
  return refs.flatMap((ref) => {
    const layer = document.layer(ref.layer);
    const track = layer && tracksOf(layer)[ref.property];
    const frame = track && keyFrames(layer, track).find((at) => Math.abs(at - ref.frame) < 0.01);
    return frame === undefined ? [] : [{ ...ref, frame }];
  });
}
