import { ClipboardPaste, Copy, X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Ease, KeyRef } from "../api/client";
import { labelOf } from "../document/properties";
import { NumberField } from "../fields/NumberField";
import { timecode } from "../geometry/times";
import { Pill } from "../parts/Pill";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { say, sayProblem } from "../state/page";
import { setTools, useTools } from "../state/tools";
import { roleColour } from "../theme/theme";
import { type Bezier, useBezierDrag } from "./curveHandles";
import { EaseCurve } from "./EaseCurve";
import { EaseText } from "./EaseText";
import { useEase, useEaseFacts, usePresets } from "./easeNames";

/** Which keys an easing bends: their properties, the time of the first, and their layers. */
function useBent(keys: KeyRef[]): string {
  const session = useSession();
  const facts = useFacts();
  const { scene } = useScene();
  const layers = [...new Set(keys.map((key) => key.layer))].flatMap((id) => session.layer(id) ?? []);
  const properties = keys.flatMap((key) => {
    const layer = layers.find((one) => one.id === key.layer);
    return layer ? labelOf(layer, key.property, facts) : [];
  });
  const what = [...new Set(properties)].join(", ");
  const whose = layers.length > 2 ? `${layers.length} layers` : layers.map((layer) => layer.name).join(" and ");
  const times = [...new Set(keys.map((key) => timecode(key.frame, scene)))];
  return `${what} of ${whose} from ${times.slice(0, 3).join(", ")}${times.length > 3 ? ", …" : ""}`;
}

interface Props {
  /** The keys whose stretches are eased. */
  keys: KeyRef[];
  ease: Ease;
}

const WIDE = 272;
const TALL = 132;

/** An easing: its curve with handles, played beside a straight one, presets, numbers and text; for one move or many. */
export function EasingEditor({ keys, ease }: Props) {
  const session = useSession();
  const facts = useEase(ease);
  const clip = useTools((state) => state.easeClip);
  const set = (value: Ease) => session.edit({ edit: "set_easing", keys, ease: value });
  const keep = (run: string | undefined, value: Ease) => session.keep(run, { edit: "set_easing", keys, ease: value });
  const attempt = (value: Ease) => session.try([{ edit: "set_easing", keys, ease: value }]);
  return (
    <Box data-testid="easing-editor">
      <Text fontSize="row" color="quiet" mb="1.5" lineClamp={2}>
        Bends <b>{useBent(keys)}</b>
      </Text>
      <BigCurve ease={ease} curve={facts?.curve} attempt={attempt} keep={keep} />
      <Played curve={facts?.curve} />
      <Flex gap="1.5" mt="2" align="center">
        <EaseText label="Easing as text" text={facts?.text} set={set} flex="1" minWidth="0" />
        <Pill
          height="control"
          px="1.5"
          label="Copy the easing"
          onClick={() => {
            setTools({ easeClip: ease });
            void navigator.clipboard?.writeText(facts?.text ?? "").catch(() => {});
            say(`Copied ${facts?.text}.`);
          }}
        >
          <Copy size={13} />
        </Pill>
        <Pill
          height="control"
          px="1.5"
          label="Paste the easing"
          disabled={!clip}
          onClick={() => clip && void set(clip)}
        >
          <ClipboardPaste size={13} />
        </Pill>
      </Flex>
      <Numbers ease={ease} set={set} attempt={attempt} />
      <Presets ease={ease} set={set} />
    </Box>
  );
}

const isBezier = (ease: Ease): ease is { bezier: [number, number, number, number] } =>
  typeof ease === "object" && "bezier" in ease;

const NAMED: Record<string, [number, number, number, number]> = {
  linear: [0.33, 0.33, 0.67, 0.67],
};

interface CurveProps {
  ease: Ease;
  curve: number[] | undefined;
  attempt: (ease: Ease) => void;
  keep: (run: string | undefined, ease: Ease) => unknown;
}

/** How far, in shares of the way, the curve in large reaches beyond 0 and 1 at the least. */
const BEYOND = 0.35;

/** The lowest and highest share of the way that a curve and its handles reach, with some room around them. */
function reach(curve: number[], handles: Bezier | null): [number, number] {
  const shares = [...curve, ...(handles ? [handles[1], handles[3]] : []), 0, 1];
  const [low, high] = [Math.min(...shares), Math.max(...shares)];
  const room = 0.08 * (high - low);
  return [Math.min(-BEYOND, low - room), Math.max(1 + BEYOND, high + room)];
}

/** The curve in large, drawn whole however far it overshoots; a bezier's handles are dragged in place and snap to flat. */
function BigCurve({ ease, curve, attempt, keep }: CurveProps) {
  const named = useEase(ease);
  const numbers = isBezier(ease)
    ? ease.bezier
    : typeof ease === "string" && ease !== "hold"
      ? (named?.bezier ?? NAMED[ease] ?? null)
      : null;
  // While a handle is dragged the box stays as it was: a scale that grows under the hand runs away from it.
  const frozen = useRef<[number, number] | null>(null);
  const [low, high] = frozen.current ?? reach(curve ?? [], numbers as Bezier | null);
  const { shown, start, nudge } = useBezierDrag(numbers as Bezier | null, {
    perX: WIDE / 1.16,
    perY: TALL / (high - low),
    begun: (on) => {
      frozen.current = on ? [low, high] : null;
    },
    goals: (_, x) => [x],
    attempt: (bezier) => attempt({ bezier }),
    keep: (bezier, run) => keep(run, { bezier }),
  });
  const place = (x: number, y: number): [number, number] => [
    ((x + 0.08) / 1.16) * WIDE,
    ((high - y) / (high - low)) * TALL,
  ];
  // A handle dragged beyond the box is drawn at its edge, where it can be grabbed.
  const grip = (x: number, y: number) => place(x, Math.min(Math.max(y, low + 0.04), high - 0.04));
  const own = shown
    ? `M${place(0, 0)}C${place(shown[0], shown[1])} ${place(shown[2], shown[3])} ${place(1, 1)}`
    : (curve ?? []).map((y, i) => `${i ? "L" : "M"}${place(i / ((curve?.length ?? 2) - 1), y)}`).join("");
  return (
    <svg
      width={WIDE}
      height={TALL}
      role="group"
      aria-label="The easing's curve"
      style={{
        background: roleColour("panel"),
        borderRadius: 10,
        border: `1px solid ${roleColour("edge")}`,
        touchAction: "none",
        display: "block",
      }}
    >
      <path d={`M${place(0, 0)}L${place(1, 0)}M${place(0, 1)}L${place(1, 1)}`} stroke={roleColour("edge")} />
      <path d={`M${place(0, 0)}L${place(1, 1)}`} stroke={roleColour("edge")} strokeDasharray="3 3" />
      <path d={own} fill="none" stroke={roleColour("act")} strokeWidth="2.2" />
      {shown &&
        ([0, 1] as const).map((which) => {
          const from = place(which, which);
          const at = grip(shown[2 * which], shown[2 * which + 1]);
          return (
            <g key={which}>
              <path d={`M${from}L${at}`} stroke={roleColour("quiet")} />
              <circle
                cx={at[0]}
                cy={at[1]}
                r="6"
                tabIndex={0}
                role="slider"
                aria-label={which ? "Handle at the end" : "Handle at the start"}
                aria-valuenow={shown[2 * which + 1]}
                aria-valuetext={`${shown[2 * which]}, ${shown[2 * which + 1]}`}
                fill={roleColour("well")}
                stroke={roleColour("act")}
                strokeWidth="2"
                cursor="grab"
                onPointerDown={(event) => start(event, which)}
                onKeyDown={(event) => nudge(event, which)}
              />
            </g>
          );
        })}
    </svg>
  );
}

/** A dot that runs as the easing has it, looped, over one that runs straight. */
function Played({ curve }: { curve: number[] | undefined }) {
  const eased = useRef<HTMLDivElement>(null);
  const straight = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!curve) return;
    let wanted = 0;
    const begin = performance.now();
    const tick = (now: number) => {
      const u = Math.min(((now - begin) % 1700) / 1100, 1);
      const at = u * (curve.length - 1);
      const low = Math.floor(at);
      const y = curve[low] + ((curve[low + 1] ?? curve[low]) - curve[low]) * (at - low);
      eased.current!.style.transform = `translateX(${20 + y * (WIDE - 58)}px)`;
      straight.current!.style.transform = `translateX(${20 + u * (WIDE - 58)}px)`;
      wanted = requestAnimationFrame(tick);
    };
    wanted = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(wanted);
  }, [curve]);
  return (
    <Box position="relative" height="30px" width={`${WIDE}px`} mt="1" data-testid="played" aria-hidden>
      <Box ref={eased} position="absolute" top="1" width="12px" height="12px" borderRadius="full" bg="act" />
      <Box ref={straight} position="absolute" top="19px" width="8px" height="8px" borderRadius="full" bg="edge" />
    </Box>
  );
}

type Setter = { ease: Ease; set: (ease: Ease) => unknown; attempt: (ease: Ease) => void };

/** The few numbers of overshoot, bounce, spring and steps. */
function Numbers({ ease, set, attempt }: Setter) {
  if (typeof ease === "string") return null;
  const rows: [string, string, number, (value: number) => Ease, number][] =
    "overshoot" in ease
      ? [["Overshoot", "%", ease.overshoot, (n) => ({ overshoot: n }), 1]]
      : "bounce" in ease
        ? [
            ["Bounces", "×", ease.bounce.count!, (n) => ({ bounce: { ...ease.bounce, count: Math.round(n) } }), 1],
            [
              "Loses of its height",
              "",
              ease.bounce.damping!,
              (n) => ({ bounce: { ...ease.bounce, damping: n } }),
              0.01,
            ],
          ]
        : "spring" in ease
          ? [
              [
                "Period, share of the move",
                "",
                ease.spring.response!,
                (n) => ({ spring: { ...ease.spring, response: n } }),
                0.01,
              ],
              ["Damping", "", ease.spring.damping!, (n) => ({ spring: { ...ease.spring, damping: n } }), 0.01],
            ]
          : "steps" in ease
            ? [["Steps", "×", ease.steps, (n) => ({ ...ease, steps: Math.round(n) }), 1]]
            : [];
  return (
    <>
      {rows.map(([label, unit, value, made, step]) => (
        <Flex key={label} align="center" gap="2" mt="1.5">
          <Text flex="1" fontSize="row">
            {label}
          </Text>
          <NumberField
            label={label}
            unit={unit}
            step={step}
            width="78px"
            read={() => value}
            attempt={(n) => attempt(made(n))}
            keep={(n) => set(made(n))}
          />
        </Flex>
      ))}
    </>
  );
}

/** The presets drawn as curves; the project's own can be added and taken away. */
function Presets({ ease, set }: { ease: Ease; set: (ease: Ease) => unknown }) {
  const { common, own, keep, drop } = usePresets();
  const facts = useEaseFacts([...common, ...own].map((preset) => preset.ease as Ease));
  const [name, setName] = useState("");
  const now = JSON.stringify(ease);
  const keepIt = () => {
    const given = name.trim();
    if (!given) return;
    setName("");
    keep({ name: given, ease: ease as never }).catch((fault) => {
      setName(given);
      sayProblem(fault);
    });
  };
  return (
    <>
      <Box
        display="grid"
        gridTemplateColumns="repeat(4, minmax(0, 1fr))"
        gap="1"
        mt="2"
        role="group"
        aria-label="Presets"
      >
        {[...common, ...own].map((preset, i) => {
          const easeText = JSON.stringify(preset.ease);
          const mine = i >= common.length;
          return (
            <Box key={`${mine}${preset.name}`} position="relative">
              <chakra.button
                type="button"
                title={preset.name}
                aria-pressed={easeText === now}
                width="100%"
                borderRadius="control"
                borderWidth="1px"
                borderColor={easeText === now ? "act" : "edge"}
                bg={easeText === now ? "actWash" : "well"}
                cursor="pointer"
                pb="0.5"
                overflow="hidden"
                _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
                onClick={() => set(preset.ease as Ease)}
              >
                <EaseCurve curve={facts.get(easeText)?.curve} width={58} height={32} plain />
                <Text fontSize="caption" lineHeight="1.15" px="0.5" css={{ overflowWrap: "break-word" }}>
                  {preset.name}
                </Text>
              </chakra.button>
              {mine && (
                <chakra.button
                  type="button"
                  aria-label={`Delete preset ${preset.name}`}
                  position="absolute"
                  top="0"
                  right="0"
                  color="quiet"
                  cursor="pointer"
                  onClick={() => void drop(preset.name).catch(sayProblem)}
                >
                  <X size={11} />
                </chakra.button>
              )}
            </Box>
          );
        })}
      </Box>
      <Flex gap="1.5" mt="2">
        <TextInput
          aria-label="Name of a new preset"
          placeholder="Keep as preset…"
          value={name}
          flex="1"
          minWidth="0"
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && !event.repeat && keepIt()}
        />
        <Pill height="control" disabled={!name.trim()} onClick={keepIt}>
          Keep
        </Pill>
      </Flex>
    </>
  );
}
