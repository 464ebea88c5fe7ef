import { Crosshair } from "lucide-react";
import { useEffect, useLayoutEffect, useRef } from "react";
import type { LayerNames } from "../api/client";
import { Pill } from "../parts/Pill";
import { usePointing } from "../state/formulas";
import { say, sayProblem } from "../state/page";

interface Props {
  layer: string;
  property: string;
  disabled: boolean;
  layers: () => Promise<LayerNames[]>;
  put: (text: string) => void;
}

/** A button, then a press on any number of the panel, any lane or layer, any anchor or station on the stage puts what it
 * is called into the formula. */
export function PointAt({ layer, property, disabled, layers, put }: Props) {
  const on = usePointing((state) => state.owner === `${layer}.${property}`);
  // A press is heard as soon as pointing is on, and while what stands around is rendered again.
  const latest = useRef({ layers, put });
  latest.current = { layers, put };
  useLayoutEffect(() => {
    if (!on) return;
    const listening = new AbortController();
    const options = { capture: true, signal: listening.signal };
    /** What was pressed is being looked up, was put in, and the press has ended. */
    let [asking, found, released] = [false, false, false];
    const stop = () => usePointing.setState({ owner: null });
    const swallow = (event: Event) => {
      if (event.target instanceof Element && event.target.closest("[data-point-at]")) return;
      event.preventDefault();
      event.stopPropagation();
    };
    const press = async (event: PointerEvent) => {
      if (event.target instanceof Element && event.target.closest("[data-point-at]")) return;
      swallow(event);
      if (asking || found) return;
      if (event.button !== 0) return stop();
      const target = placeOf(event);
      if (!target) return say("Nothing that a formula can read stands there. Esc ends pointing.");
      [asking, released] = [true, false];
      try {
        const own = target.layer === layer && target.property === property;
        const text = own ? "base" : called(await latest.current.layers(), layer, target);
        if (listening.signal.aborted) return;
        if (!text) return say("A formula cannot read that. Point at a number of a layer.");
        found = true;
        latest.current.put(text);
        if (released) stop();
      } catch (error) {
        sayProblem(error);
      } finally {
        asking = false;
      }
    };
    window.addEventListener("pointerdown", (event) => void press(event), options);
    for (const kind of ["click", "dblclick", "mousedown", "mouseup"] as const)
      window.addEventListener(kind, swallow, options);
    window.addEventListener(
      "pointerup",
      (event) => {
        swallow(event);
        // The click that follows belongs to this press, too.
        window.setTimeout(() => {
          released = true;
          if (found) stop();
        }, 60);
      },
      options,
    );
    window.addEventListener(
      "keydown",
      (event) => {
        if (event.key !== "Escape" || found) return;
        swallow(event);
        stop();
      },
      options,
    );
    document.documentElement.dataset.pointing = "on";
    return () => {
      listening.abort();
      delete document.documentElement.dataset.pointing;
    };
  }, [on, layer, property]);
  useEffect(
    () => () => {
      if (usePointing.getState().owner === `${layer}.${property}`) usePointing.setState({ owner: null });
    },
    [layer, property],
  );
  return (
    <Pill
      height="24px"
      px="2"
      data-point-at=""
      aria-pressed={on}
      disabled={disabled}
      title="Then press what the formula is to read: a number, a lane, a layer, an anchor or a station on the stage"
      onPointerDown={(event) => event.preventDefault()}
      onClick={() => usePointing.setState({ owner: on ? null : `${layer}.${property}` })}
    >
      <Crosshair size={13} /> {on ? "Press what it reads…" : "Point at it"}
    </Pill>
  );
}

/** What was pointed at. */
type Target = { layer: string; property?: string; share?: [number, number] | null };

function placeOf(event: PointerEvent): Target | null {
  const target = event.target instanceof Element ? event.target : null;
  const number = target?.closest<HTMLElement>("[data-reads]");
  if (number) {
    const [layer, property] = number.dataset.reads!.split(" ");
    return { layer, property };
  }
  if (target?.closest("[data-testid=stage]")) return usePointing.getState().onStage(event);
  return null;
}

/** What a place is called in a formula of a layer; empty where it has no name there. */
function called(layers: LayerNames[], own: string, { layer, property, share }: Target): string {
  const found = layers.find((one) => one.id === layer);
  if (!found) return "";
  const before = layer === own.split("/")[0] ? "" : `scene[${JSON.stringify(found.name)}].`;
  if (share) return `${before}in_scene(${before}box.at(${share.join(", ")}))`;
  const wanted = property ?? "position";
  const name = Object.entries(found.properties).find(([, path]) => path === wanted)?.[0];
  return name ? before + name : "";
}
