import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useReducer, useRef } from "react";
import { api, need, type Scene } from "../api/client";
import type { components } from "../api/schema";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";

type Schemas = components["schemas"];
export type Row = Schemas["Row"];
export type Trouble = Schemas["TroubleAnswer"];

/** Rows that are looked at in one request: an answer takes about as long as a blink. */
const AT_ONCE = 12;
const NONE: Row[] = [];

/** What of the scene, its table left out, the pictures and the troubles of rows go by: it counts its changes. */
function useVersion(scene: Scene, within: number): number {
  const known = useRef({ count: 0, parts: [] as unknown[] });
  const parts = [
    within,
    ...(scene.layers ?? []),
    JSON.stringify([scene.slots, scene.width, scene.height, scene.length, scene.background, scene.motion_blur]),
  ];
  const { current } = known;
  if (parts.length !== current.parts.length || parts.some((part, at) => part !== current.parts[at])) {
    known.current = { count: current.count + 1, parts };
  }
  return known.current.count;
}

/**
 * What is known of a row goes by: another key at each of its changes. One that undo brings back is asked for anew, since
 * what was asked for before may have been answered after the next change.
 */
function useKeys(rows: Row[]): (row: Row) => string {
  const known = useRef(new Map<string, { told: string; turn: number }>());
  return useMemo(() => {
    const before = known.current;
    const here = new Map(
      rows.map(({ id, cells, mends }) => {
        const was = before.get(id!);
        const told = JSON.stringify([cells, mends]);
        return [id!, was?.told === told ? was : { told, turn: turns++ }];
      }),
    );
    known.current = here;
    return (row: Row) => `${row.id}-${here.get(row.id!)?.turn}`;
  }, [rows]);
}
let turns = 0;

/** The rows of the table; what needs a look in each, those that are seen first; their files; and what pictures go by. */
export function useRows(frame: number, pattern: string, seen: [number, number]) {
  const session = useSession();
  const { scene, revision } = useScene();
  const rows = (scene.rows ?? NONE) as Row[];
  const keyOfRow = useKeys(rows);
  const version = useVersion(scene, session.innerVersion);
  const path = { scene_id: session.sceneId };
  const { data: places, error } = useQuery({
    queryKey: ["titles", session.sceneId, revision, pattern],
    queryFn: () => need(api.GET("/api/scenes/{scene_id}/table/rows", { params: { path, query: { pattern } } })),
    placeholderData: (before) => before,
    retry: false,
  });
  const known = useRef({ of: "", looks: new Map<string, Trouble[]>() });
  const [, tell] = useReducer((count: number) => count + 1, 0);
  const of = `${version} ${frame}`;
  if (known.current.of !== of) known.current = { of, looks: new Map() };
  const { looks } = known.current;
  const order = [...rows.slice(seen[0], seen[1]), ...rows];
  const missing = [...new Set(order.filter((row) => !looks.has(keyOfRow(row))))].slice(0, AT_ONCE);
  const asked = missing.map(keyOfRow).join(" ");
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked again as soon as other rows are missing
  useEffect(() => {
    if (!missing.length) return;
    const body = { rows: missing.map(({ id }) => id!), frame };
    need(api.POST("/api/scenes/{scene_id}/table/looks", { params: { path }, body }))
      .then((answers) => {
        const found = new Map(answers.map(({ id, troubles }) => [id, troubles]));
        // One that is gone meanwhile has nothing to be looked at.
        for (const row of missing) looks.set(keyOfRow(row), found.get(row.id!) ?? []);
        // Also where others were scrolled to meanwhile: what was found holds.
        tell();
      })
      .catch(() => setTimeout(tell, 2_000));
  }, [asked, of]);
  const place = new Map((places ?? []).map((one) => [one.id, one]));
  const troublesOf = (row: Row): Trouble[] | null => {
    const found = looks.get(keyOfRow(row));
    const same = place.get(row.id!)?.same;
    if (!found) return null;
    const twice = { slot: "", sentence: `The same as row ${same}.`, size: null, lines: false };
    return same ? [...found, twice] : found;
  };
  return {
    rows,
    version,
    keyOfRow,
    troublesOf,
    fileOf: (row: Row) => place.get(row.id!)?.file ?? "",
    wrongPattern: error ? (error as Error).message : "",
    looking: missing.length > 0,
  };
}
