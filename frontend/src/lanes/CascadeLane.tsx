import { useState } from "react";
import type { Layer } from "../api/client";
import { cascadesOf } from "../document/contents";
import { snapsOf } from "../keys/snaps";
import { type Cascade, cascadeEdits, useCascadeFacts } from "../session/cascades";
import { useSession } from "../session/session";
import { showCascade, useCascade } from "../state/cascades";
import { select } from "../state/selection";
import { useFrameDrag } from "./frameDrag";
import { CASCADE } from "./rows";
import { NAMES, toX, useScale } from "./scale";

/** Stairs that are drawn one by one; of more units every so many-th. */
const MOST_STAIRS = 120;
const tidy = (value: number) => Math.round(value * 1000) / 1000;

/** Under an opened text its cascades: each a bar with its units as a staircase, to be moved and made longer. */
export function CascadeLanes({ layer }: { layer: Layer }) {
  const facts = useCascadeFacts(layer);
  return cascadesOf(layer.content).map((cascade, index) => (
    <CascadeLane key={index} layer={layer} cascade={cascade} index={index} facts={facts[index]} />
  ));
}

interface Props {
  layer: Layer;
  cascade: Cascade;
  index: number;
  facts?: ReturnType<typeof useCascadeFacts>[number];
}

function CascadeLane({ layer, cascade, index, facts }: Props) {
  const session = useSession();
  const scale = useScale();
  const begin = useFrameDrag();
  const [drawn, setDrawn] = useState<Partial<Cascade> | null>(null);
  const id = layer.id!;
  const on = useCascade((state) => state.layer === id && state.index === index);
  const count = Math.max(facts?.count ?? 1, 1);
  const now = { ...cascade, ...drawn };
  const each = now.each ?? 12;
  const start = layer.span.start + (now.start ?? 0);
  const gaps = gapsOf(facts, cascade, count);
  const stagger = staggerOf(now, gaps);
  const total = gaps * stagger + each;
  const places = facts?.units ?? [];
  const first = layer.span.start + (cascade.start ?? 0);

  const drag = (change: (by: number) => Partial<Cascade>) => ({
    move: (by: number) => {
      setDrawn(change(by));
      session.try(cascadeEdits(id, index, change(by)));
    },
    end: (by: number) => void session.edit(...cascadeEdits(id, index, change(by))).finally(() => setDrawn(null)),
    cancel: () => {
      setDrawn(null);
      session.cancel();
    },
  });
  const before = { each: cascade.each ?? 12, stagger: staggerOf(cascade, gaps) };
  const drags = {
    all: drag((by) => ({ start: tidy((cascade.start ?? 0) + by) })),
    // One unit is longer, and all follow one another as they did.
    each: drag((by) => ({ each: Math.max(tidy(before.each + by), 0), spread: "stagger", amount: before.stagger })),
    last: drag((by) => ({
      spread: "stagger",
      amount: Math.max(tidy(before.stagger + by / Math.max(gaps, 1)), 0),
    })),
    total: drag((by) => {
      const long = gaps * before.stagger + before.each;
      return { spread: "total", amount: Math.max(tidy(long + by), before.each) };
    }),
  };
  const press = (event: React.PointerEvent, which: keyof typeof drags, places: number[]) => {
    select(id);
    showCascade(id, index);
    if (!layer.locked) begin(event, drags[which], places, snapsOf(session, new Set()));
    else event.stopPropagation();
  };
  const name = cascade.name || `${cascade.unit ?? "letter"} ${cascade.way ?? "in"}`;
  const width = Math.max(total * scale.frameWidth, 3);
  const step = Math.max(Math.ceil(places.length / MOST_STAIRS), 1);
  const grip = { position: "absolute", top: 0, bottom: 0, width: 7, cursor: "col-resize" } as const;
  const last = start + gaps * stagger;
  return (
    <div className="lane" data-testid="cascade-lane" data-name={name} style={{ height: CASCADE }}>
      <div className="lane-head" style={{ width: NAMES, height: CASCADE }}>
        <button
          type="button"
          className="bare lane-name"
          title="Show its units on the stage"
          style={{ display: "block", fontWeight: on ? 700 : 500, textAlign: "left" }}
          onClick={() => {
            select(id);
            showCascade(id, index);
          }}
        >
          {name}
        </button>
        <span className="lane-now">{count > 1 ? `${count} × ${tidy(each)} f` : ""}</span>
      </div>
      <div className="lane-body">
        <div
          role="group"
          data-testid="cascade-bar"
          data-start={tidy(start)}
          data-total={tidy(total)}
          data-stagger={tidy(stagger)}
          data-each={tidy(each)}
          aria-label={`Cascade ${name} of ${layer.name}: from frame ${tidy(start)} for ${tidy(total)} frames`}
          title="Drag to move it in time; its end for its length, the first step's end for one unit, the last step's start for the stagger"
          className="cascade-bar"
          data-on={on ? "yes" : ""}
          data-off={cascade.on === false ? "yes" : ""}
          style={{ left: toX(scale, start), width }}
          onPointerDown={(event) => press(event, "all", [first, first + total])}
        >
          <svg
            width="100%"
            height="100%"
            viewBox={`0 0 ${Math.max(total, 1e-3)} ${Math.max(places.length, 1)}`}
            preserveAspectRatio="none"
            aria-hidden
          >
            {places
              .map((unit, at) => ({ at, begins: stretched(unit.begins, cascade, now, gaps) }))
              .filter(({ at }) => at % step === 0)
              .map(({ at, begins }) => (
                <rect key={at} x={begins} y={at} width={Math.max(each, 0.25)} height={step} />
              ))}
          </svg>
        </div>
        {!layer.locked && (
          <>
            <div
              data-testid="cascade-each"
              title={`One unit: ${tidy(each)} frames`}
              style={{ ...grip, left: toX(scale, start + each) - 4, bottom: "50%" }}
              onPointerDown={(event) => press(event, "each", [first + before.each])}
            />
            {gaps > 0 && (
              <div
                data-testid="cascade-stagger"
                title={`Stagger: ${tidy(stagger)} frames`}
                style={{ ...grip, left: toX(scale, last) - 4, top: "50%" }}
                onPointerDown={(event) => press(event, "last", [first + gaps * before.stagger])}
              />
            )}
            <div
              data-testid="cascade-end"
              title={`Length: ${tidy(total)} frames`}
              style={{ ...grip, left: toX(scale, start + total) - 2 }}
              onPointerDown={(event) => press(event, "total", [first + gaps * before.stagger + before.each])}
            />
          </>
        )}
      </div>
    </div>
  );
}

/** How many gaps lie between the first unit and the last in the order. */
function gapsOf(facts: Props["facts"], cascade: Cascade, count: number): number {
  if (!facts) return count - 1;
  const stagger = facts.stagger;
  return stagger > 0 ? Math.round((facts.total - (cascade.each ?? 12)) / stagger) : count - 1;
}

/** The frames from one unit to the next, as the core has them. */
function staggerOf({ spread, amount, each }: Partial<Cascade>, gaps: number): number {
  const [one, given] = [each ?? 12, amount ?? 2];
  if (spread === "overlap") return one / given;
  if (spread === "total") return gaps ? Math.max(given - one, 0) / gaps : 0;
  return given;
}

/** When a unit begins in a cascade that is being drawn otherwise, from its start. */
function stretched(begins: number, was: Cascade, now: Partial<Cascade>, gaps: number): number {
  const before = staggerOf(was, gaps);
  return (begins - (was.start ?? 0)) * (before > 0 ? staggerOf(now, gaps) / before : 1);
}
