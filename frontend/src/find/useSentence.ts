import { useQuery } from "@tanstack/react-query";
import { row } from "../api/arrays";
import type { Edit, Layer } from "../api/client";
import { layerAt } from "../document/items";
import { factsOf, labelOf } from "../document/properties";
import { isKeyed, tracksOf } from "../document/tracks";
import { timecode } from "../geometry/times";
import { applied, typed as typedNumber } from "../parts/arithmetic";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { selection } from "../state/selection";
import type { Entry } from "./command";
import { sentence } from "./ranked";
import { propertyCalled } from "./useEntries";

/** What a typed sentence says: a property set now or keyed later; a time, a beat or a layer that the playhead goes to. */
export function useSentence(typed: string): { said: Entry[]; waiting: boolean } {
  const session = useSession();
  const { scene } = useScene();
  const facts = useFacts();
  const time = typed.startsWith("@") ? typed.slice(1).trim() : (sentence(typed)?.at ?? "");
  const { frame } = session.frames;
  const { data, isFetching } = useQuery({
    queryKey: ["typed time", session.sceneId, time, frame],
    queryFn: () => session.readTime(time, frame).catch(() => null),
    enabled: Boolean(time),
  });
  const waiting = Boolean(time) && isFetching;
  const at = data === null || data === undefined ? null : Math.round(data);
  if (typed.startsWith("@")) return { said: places(typed.slice(1).trim(), at), waiting };
  return { said: waiting ? [] : setting(), waiting };

  function setting(): Entry[] {
    const said = sentence(typed);
    const layers = selection().selected.flatMap((id) => layerAt((scene.layers ?? []) as Layer[], id) ?? []);
    if (!said || !layers.length) return [];
    const [layer] = layers;
    const path = propertyCalled(layer, said.property, facts);
    if (!path) return [];
    const about = factsOf(layer, path, facts);
    const label = labelOf(layer, path, facts);
    const arrays = session.frames.layer(layer.id!);
    const now = arrays && path in arrays.values ? [...row(arrays, arrays.values[path], frame)] : [];
    const colour = typeof tracksOf(layer)[path]?.rest === "string";
    const parts = about.parts.length;
    const given = said.values.map((text, part) => {
      const number = typedNumber(text);
      return number === null ? null : applied(number, now[part] ?? 0);
    });
    if (!colour && given.some((number) => number === null)) return [];
    const [x, y] = given;
    const value = colour
      ? said.values[0]
      : parts === 1
        ? x
        : y !== undefined
          ? [x, y]
          : about.linked || about.parts.join() !== "x,y"
            ? [x, x]
            : [x, null];
    const late = said.at !== null && said.at !== "";
    if (late && at === null)
      return [{ kind: "time", name: `“${said.at}” is no time: write +12, 2:00 or 1.5s.`, run: () => {}, not: " " }];
    const goal = late ? at! : frame;
    const shown = Array.isArray(value) ? value.filter((one) => one !== null).join(", ") : value;
    const unit = colour ? "" : about.unit;
    const there = frame >= layer.span.start && frame < layer.span.start + layer.span.length;
    const keys = late && there && !(isKeyed(layer) && tracksOf(layer)[path]?.keys?.length);
    const edits = layers
      .filter((one) => path in tracksOf(one))
      .flatMap((one) => [
        ...(keys ? [{ edit: "start_keying", layer: one.id, property: path, frame }] : []),
        late
          ? { edit: "set_key", layer: one.id, property: path, frame: goal, value }
          : { edit: "set_property", layer: one.id, property: path, frame, value },
      ]);
    const when = late ? `, a key at ${timecode(goal, scene)}` : "";
    return [
      {
        kind: "set",
        name: `Set ${label} to ${shown}${unit}${when}`,
        run: () => session.edit(...(edits as unknown as Edit[])),
      },
    ];
  }

  /** Where the playhead goes by what was typed behind @. */
  function places(words: string, there: number | null): Entry[] {
    const seek = (to: number) => () => session.frames.seek(Math.min(Math.max(to, 0), scene.length - 1));
    const found: Entry[] = [];
    if (there !== null) found.push({ kind: "go to", name: `Go to ${timecode(there, scene)}`, run: seek(there) });
    const asked = words.toLowerCase();
    for (const { frame: at, label } of scene.beats ?? [])
      if (label?.toLowerCase().includes(asked))
        found.push({ kind: "beat", name: `Go to ${label}, ${timecode(at, scene)}`, run: seek(Math.round(at)) });
    for (const { name, span, id } of scene.layers ?? [])
      if (name.toLowerCase().includes(asked))
        found.push({
          kind: "layer",
          name: `Go to where ${name} begins, ${timecode(span.start, scene)}`,
          run: () => {
            seek(span.start)();
            session.frames.notify();
            return id;
          },
        });
    return found.slice(0, 40);
  }
}
