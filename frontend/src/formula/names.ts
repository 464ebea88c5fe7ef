import {
  type Completion,
  type CompletionContext,
  type CompletionResult,
  currentCompletions,
  startCompletion,
} from "@codemirror/autocomplete";
import { type EditorView, hoverTooltip } from "@codemirror/view";
import type { QueryClient } from "@tanstack/react-query";
import { api, type FormulaNames, type LayerNames, type NameFacts, need, type Scene } from "../api/client";
import type { Session } from "../session/session";
import { linesAbove, thingAt } from "./language";

/** What may be written in formulas; the same as long as the page is open. */
export const NAMES = {
  queryKey: ["formulas"],
  queryFn: () => need(api.GET("/api/formulas")),
  staleTime: Number.POSITIVE_INFINITY,
};

/** Where a formula stands, and what answers for it. */
export interface Place {
  session: Session;
  layer: string;
  property: string;
  unit: string;
  version: string;
  layers: () => { id: string; name: string }[];
  queries: QueryClient;
}

/** The ids and names of a scene's layers. */
export const layersIn = ({ layers }: Scene) => (layers ?? []).map(({ id, name }) => ({ id: id!, name: name ?? "" }));

/** The layers of the scene by the names that formulas have for them. */
export function layersOf({ session, version, queries }: Place): Promise<LayerNames[]> {
  const path = { scene_id: session.sceneId };
  return queries.fetchQuery({
    queryKey: ["formula layers", session.sceneId, version],
    queryFn: () => need(api.GET("/api/scenes/{scene_id}/formula/layers", { params: { path } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** Those, where they are known already; else they are asked for, and names are offered again once they are here. */
function layersAtHand(place: Place, view: EditorView | undefined): LayerNames[] {
  const key = ["formula layers", place.session.sceneId, place.version];
  const known = place.queries.getQueryData<LayerNames[]>(key);
  if (!known) void layersOf(place).then(() => again(view));
  return known ?? [];
}

/** What texts are worth at the playhead where a formula stands. */
async function valuesOf({ session, layer, property }: Place, texts: string[]): Promise<(string | null)[]> {
  try {
    return await need(
      api.POST("/api/scenes/{scene_id}/formula/values", {
        params: { path: { scene_id: session.sceneId } },
        body: { layer, property, frame: session.frames.frame, texts },
      }),
    );
  } catch {
    return texts.map(() => null);
  }
}

/** Values of texts at one playhead, in one state of the scene. */
let book = { of: "", values: new Map<string, string | null>() };

/** The values that are known; the others are asked for, and names are offered again once they are here. */
function valuesAtHand(place: Place, texts: string[], view: EditorView | undefined): Map<string, string | null> {
  const { session, layer, property, version } = place;
  const of = [session.sceneId, layer, property, session.frames.frame, version].join();
  if (book.of !== of) book = { of, values: new Map() };
  const here = book;
  const missing = texts.filter((text) => !here.values.has(text)).slice(0, 100);
  if (missing.length)
    void valuesOf(place, missing).then((values) => {
      missing.forEach((text, i) => {
        here.values.set(text, values[i]);
      });
      again(view);
    });
  return here.values;
}

/** Names are offered again, with what came meanwhile, where they still are. */
function again(view: EditorView | undefined) {
  if (view?.hasFocus && currentCompletions(view.state).length) startCompletion(view);
}

/** Ask for what names are worth before they are offered. */
export async function foresee(place: Place) {
  const known = (await place.queries.fetchQuery(NAMES)).names;
  void layersOf(place);
  valuesAtHand(
    place,
    known.filter((one) => !one.function).map((one) => one.name),
    undefined,
  );
}

const PARTS: Record<string, string[]> = {
  scene: ["width", "height", "centre", "fps", "length", "t"],
  box: ["left", "top", "width", "height", "at"],
  unit_box: ["left", "top", "width", "height"],
  beat: ["last", "next", "phase"],
};
const UNITS: Record<string, string> = { rotation: "°", scale: "%", opacity: "%", position: "px" };

/** Names that fit what was typed, each with its unit and its value at the playhead; offered at once, late answers add
 * their values. */
export function completing(place: () => Place) {
  return (context: CompletionContext): CompletionResult | null => {
    const here = place();
    const quoted = context.matchBefore(/\bscene\["[^"\n]*/);
    if (quoted) return named(here, context, quoted.from + quoted.text.indexOf('"') + 1);
    const dotted = context.matchBefore(/(?:\bscene\["[^"\n]*"\]|\b[A-Za-z_]\w*)(?:\.\w+)*\.\w*/);
    if (dotted) {
      const cut = dotted.text.lastIndexOf(".");
      return parts(here, context, dotted.text.slice(0, cut), dotted.from + cut + 1);
    }
    const word = context.matchBefore(/[A-Za-z_]\w*/);
    const known = here.queries.getQueryData<FormulaNames>(NAMES.queryKey)?.names;
    if (!known || !word) return null;
    const above = linesAbove(context.state, context.pos);
    const own = [...new Set([...above.matchAll(/^\s*([A-Za-z_]\w*)\s*=/gm)].map((found) => found[1]))];
    const plain = known.filter((one) => !one.function).map((one) => one.name);
    const values = valuesAtHand(here, [...plain, ...own.map((name) => above + name)], context.view);
    const options = [
      ...own.map((name) => ({ label: name, detail: detail(values.get(above + name), ""), boost: 2 })),
      ...known.map((one) => option(one, values.get(one.name), one.name === "base" ? here.unit : one.unit)),
    ];
    return { from: word.from, options, validFor: /^\w*$/ };
  };
}

const detail = (value: string | null | undefined, unit: string) =>
  value == null ? unit : `= ${value}${unit && unit !== "f" ? ` ${unit}` : ""}`;

const option = (one: NameFacts, value: string | null | undefined, unit: string): Completion => ({
  label: one.name,
  displayLabel: one.written,
  // Of two that begin alike the shorter comes first.
  boost: -one.name.length / 10,
  apply: one.function ? `${one.name}(` : one.name,
  detail: one.function ? one.sentence : [detail(value, unit), one.sentence].filter(Boolean).join(" · "),
});

/** The layers that a name in quotes may mean; the quote and the bracket are closed behind it. */
function named(place: Place, context: CompletionContext, from: number): CompletionResult {
  // The page knows the names itself; what they have, the server tells.
  layersAtHand(place, context.view);
  const layers = place.layers();
  const put = (view: EditorView, name: string, to: number) => {
    const behind = /^"?\]?/.exec(view.state.sliceDoc(to, to + 2))?.[0].length ?? 0;
    const insert = `${JSON.stringify(name).slice(1)}].`;
    view.dispatch({
      changes: { from, to: to + behind, insert },
      selection: { anchor: from + insert.length },
      userEvent: "input.complete",
    });
    startCompletion(view);
  };
  const typed = context.state.sliceDoc(from, context.pos).toLowerCase();
  // By the beginning of any word of a name.
  const fits = (name: string) => ` ${name.toLowerCase()}`.includes(` ${typed}`);
  return {
    from,
    filter: false,
    options: layers
      .filter(({ name }) => fits(name))
      .map(({ name }) => ({ label: name, apply: (view, _, __, to) => put(view, name, to) })),
  };
}

/** The parts of what stands before a dot. */
function parts(place: Place, context: CompletionContext, before: string, from: number): CompletionResult {
  const named = /^scene\["((?:[^"\\]|\\.)*)"\]$/.exec(before);
  let names = PARTS[before] ?? ["x", "y", "at"];
  if (named) {
    const name = JSON.parse(`"${named[1]}"`) as string;
    const layer = layersAtHand(place, context.view).find((one) => one.name === name);
    const heard = layer?.sounds ? ["loudness"] : [];
    names = [...Object.keys(layer?.properties ?? {}), ...heard, "box", "in_scene", "in_layer"];
  } else if (/\.box$/.test(before)) names = PARTS.box;
  const calls = ["at", "in_scene", "in_layer"];
  const above = linesAbove(context.state, context.pos);
  const whole = (name: string) => `${above}${before}.${name}`;
  const asked = names.filter((name) => !calls.includes(name) && name !== "box");
  const values = valuesAtHand(place, asked.map(whole), context.view);
  return {
    from,
    options: names.map((name) => ({
      label: name,
      apply: calls.includes(name) ? `${name}(` : name,
      detail: detail(values.get(whole(name)), UNITS[name] ?? ""),
    })),
    validFor: /^\w*$/,
  };
}

/** What lies under the pointer tells its value at the playhead, and what it is. */
export const telling = (place: () => Place) =>
  hoverTooltip(
    async (view: EditorView, at: number) => {
      const thing = thingAt(view.state, at);
      if (!thing) return null;
      const here = place();
      const text = view.state.sliceDoc(thing.from, thing.to);
      const [value] = await valuesOf(here, [linesAbove(view.state, thing.from) + text]);
      const known = (await here.queries.fetchQuery(NAMES)).names;
      const about = known.find((one) => one.name === /^\w+/.exec(text)?.[0]);
      if (value === null && !about) return null;
      const dom = document.createElement("div");
      dom.className = "cm-formula-hint";
      dom.dataset.testid = "formula-hover";
      const line = (words: string) => {
        dom.appendChild(document.createElement("div")).textContent = words;
      };
      if (value !== null) line(`${text.length > 60 ? `${text.slice(0, 58)}…` : text} = ${value}`);
      if (about) line(about.sentence);
      return { pos: thing.from, end: thing.to, above: true, create: () => ({ dom }) };
    },
    { hoverTime: 250 },
  );
