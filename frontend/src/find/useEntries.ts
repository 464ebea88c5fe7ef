import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Edit, Facts, Layer } from "../api/client";
import { useFindings } from "../checks/useFindings";
import { hasWords } from "../document/contents";
import { layerAt } from "../document/items";
import { factsOf, labelOf } from "../document/properties";
import { tracksOf } from "../document/tracks";
import { usePresets } from "../easing/easeNames";
import { timecode } from "../geometry/times";
import { layerActs } from "../keys/layerMenu";
import { LAYER_KINDS } from "../kinds/layers";
import { SHAPES } from "../kinds/shapes";
import { PROJECTS } from "../session/projects";
import type { Session } from "../session/session";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { useAdd } from "../shelf/useAdd";
import { setPage } from "../state/page";
import { select, selection } from "../state/selection";
import type { Command, Entry } from "./command";

/** The layers that are selected, those in others too. */
const chosen = (session: Session): Layer[] =>
  selection().selected.flatMap((id) => layerAt((session.answer?.scene.layers ?? []) as Layer[], id) ?? []);

/** Give the keyboard to the field of a property in the panel. */
export function toField(label: string) {
  const field = document.querySelector<HTMLElement>(
    `[data-testid=panel] [aria-label="${CSS.escape(label)}"], [data-testid=panel] [aria-label^="${CSS.escape(label)} "]`,
  );
  const input = field?.matches("input, select, textarea")
    ? field
    : field?.querySelector<HTMLElement>("input, select, textarea");
  input?.scrollIntoView({ block: "center" });
  input?.focus();
  if (input instanceof HTMLInputElement) input.select();
}

/** A property of a layer by what it is called, or how that begins. */
export function propertyCalled(layer: Layer, name: string, facts: Facts): string | undefined {
  const all = Object.keys(tracksOf(layer)).map((path) => [path, labelOf(layer, path, facts).toLowerCase()] as const);
  return (all.find(([, label]) => label === name) ?? all.find(([, label]) => label.startsWith(name)))?.[0];
}

/** All that can be found, by what it is: commands first. */
export function useEntries(commands: Command[], go: (address: string) => void): Entry[] {
  const session = useSession();
  const { scene, project } = useScene();
  const facts = useFacts();
  const add = useAdd();
  const { findings } = useFindings();
  const { data: projects } = useQuery(PROJECTS);
  const { common, own } = usePresets();
  return useMemo(() => {
    const layers = chosen(session);
    const [one] = layers;
    const edit = (...edits: object[]) => void session.edit(...(edits as unknown as Edit[]));
    const others = commands.filter(({ name }) => name !== "Find anything");
    const found: Entry[] = others.map(({ name, keys, words, not, run }) => ({
      kind: "command",
      name,
      keys,
      words,
      not: not?.(session),
      run: () => run(session),
    }));
    if (one && layers.length === 1 && !one.id!.includes("/"))
      for (const [name, run, keys] of layerActs(session, one).flat()) found.push({ kind: one.name, name, keys, run });
    if (one && layers.length === 1)
      for (const path of Object.keys(tracksOf(one))) {
        const label = labelOf(one, path, facts);
        const { unit } = factsOf(one, path, facts);
        found.push({ kind: "property", name: label, words: `${unit} of ${one.name}`, run: () => toField(label) });
      }
    for (const layer of [...(scene.layers ?? [])].reverse())
      found.push({ kind: "layer", name: layer.name, run: () => select(layer.id!) });
    for (const { name, shape, makes } of SHAPES)
      if (makes) {
        const side = Math.max(Math.round(Math.min(scene.width, scene.height) / 4), 8);
        const content = { kind: "shape", items: [{ shape, ...makes(side) }] };
        found.push({
          kind: "add",
          name: `Add: ${name.toLowerCase()}`,
          words: "new shape",
          run: () => add(content as never, name),
        });
      }
    for (const { added } of LAYER_KINDS)
      if (added)
        found.push({
          kind: "add",
          name: `Add: ${added.label.toLowerCase()}`,
          words: "new layer",
          run: () => add(added.makes(scene) as never),
        });
    const noLayer = layers.length ? "" : "Select a layer first.";
    for (const { name, sentence } of facts.recipes)
      found.push({
        kind: "recipe",
        name,
        words: sentence.toLowerCase(),
        not: noLayer,
        run: () => setPage({ drawer: "recipes", wanted: name }),
      });
    for (const [effect, { label, words }] of Object.entries(facts.effects))
      found.push({
        kind: "effect",
        name: label,
        words: words.toLowerCase(),
        not: noLayer,
        run: () => edit(...layers.map(({ id }) => ({ edit: "add_effect", layer: id, effect }))),
      });
    const keys = selection().keys;
    const noKeys = keys.length ? "" : "Select keys first, in the lanes or a pose.";
    for (const { name, ease } of [...common, ...own])
      found.push({
        kind: "easing",
        name,
        words: "ease curve speed",
        not: noKeys,
        run: () => edit({ edit: "set_easing", keys, ease }),
      });
    const texts = layers.filter(({ content }) => hasWords(content));
    const noText = texts.length ? "" : "Select a text first.";
    for (const { name } of facts.fonts)
      found.push({
        kind: "font",
        name,
        not: noText,
        run: () =>
          edit(
            ...texts.map(({ id, content }) => ({
              edit: "set_content",
              layer: id,
              path: "font",
              value: { ...(content as { font?: object }).font, family: name },
            })),
          ),
      });
    for (const beat of scene.beats ?? [])
      found.push({
        kind: "beat",
        name: beat.label || `Beat at ${timecode(beat.frame, scene)}`,
        words: "marker go to",
        run: () => session.frames.seek(Math.round(beat.frame)),
      });
    for (const { sentence, layer, frame } of findings ?? [])
      found.push({
        kind: "check",
        name: sentence,
        words: "problem finding warning",
        run: () => {
          select(layer);
          session.frames.seek(frame);
        },
      });
    for (const { id, name } of projects?.find((one) => one.id === project)?.scenes ?? [])
      if (id !== session.sceneId) found.push({ kind: "scene", name, run: () => go(`/scene/${id}`) });
    return found;
  }, [commands, session, scene, facts, add, findings, projects, project, common, own, go]);
}
