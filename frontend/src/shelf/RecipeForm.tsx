import { ArrowLeft, Crosshair } from "lucide-react";
import { useEffect, useState } from "react";
import type { Edit, Layer, RecipeFacts, RecipeField } from "../api/client";
import { NumberField } from "../fields/NumberField";
import { inOverlay } from "../parts/focus";
import { IconButton } from "../parts/IconButton";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { chakra, Flex, Text } from "../parts/styled";
import { useTryAndPlay } from "../play/tryAndPlay";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { looking, setLooking } from "../state/looking";
import { say, setPage } from "../state/page";
import { ImpactSheet } from "./ImpactSheet";
import { meeting } from "./SeveralRecipes";

const EASINGS = ["linear", "ease", "ease-in", "ease-out", "ease-in-out"];
const ORDERS = ["as given", "reversed", "from the middle", "from the ends", "random"];
/** Frames for which a motion without an end is played. */
const ENDLESS = 60;

/** Keys that do nothing to the scene. */
const PASSING = new Set(["Tab", "Shift", "Control", "Meta", "Alt", "F6"]);

type Values = Record<string, unknown>;

/** What a recipe has beyond its few numbers, and its name where it is told by another. */
export interface Also {
  also?: { recipe: string; name: string; kept?: unknown; moves?: unknown };
}

/** A chosen recipe: tried on the stage while its few numbers are set, and taken, or given back by Esc. */
export function RecipeForm({
  recipe,
  layers,
  back,
}: {
  recipe: RecipeFacts & Also;
  layers: Layer[];
  back: () => void;
}) {
  const session = useSession();
  const { scene } = useScene();
  const [values, setValues] = useState<Values>(() => startOf(recipe, scene.width, scene.height));
  const [stagger, setStagger] = useState(layers.length > 1 ? 3 : 0);
  const [order, setOrder] = useState("as given");
  const cut = recipe.phase === "cut" ? meeting(layers) : null;
  const [here] = useState(session.frames.frame);
  const [beat, setBeat] = useState("");
  const together = recipe.together > 0;
  const many = layers.length > 1 && !together;
  const name = recipe.also?.name ?? recipe.name;
  // A cut is played from a little before it; a blow lands on the beat that was chosen.
  const struck = Number(values.draw_back) + Number(values.strike);
  const first = cut
    ? Math.max(cut[1].span.start - Math.ceil(Number(values.length) / 2) - 6, 0)
    : beat
      ? Math.max(Number(beat) - struck, 0)
      : here;
  const edit = {
    edit: "apply_recipe",
    layers: layers.map((layer) => layer.id!),
    recipe: { ...(recipe.also ?? { recipe: name }), ...values },
    frame: first,
    ...(many ? { stagger, order } : {}),
  } as unknown as Edit;
  const length = recipe.lasts.reduce((sum, name) => sum + Number(values[name]), 0) || ENDLESS;
  const last = Math.min(
    first + length + (cut ? 12 : 0) + (many ? stagger * (layers.length - 1) : 0) + 6,
    scene.length - 1,
  );
  useTryAndPlay(edit, [first, last], first);

  const take = () => {
    setPage({ drawer: null });
    void session.edit(edit).then((kept) => {
      session.frames.seek(first);
      const where =
        recipe.name === "dip to a colour"
          ? "a layer lies over the cut"
          : recipe.phase === "letters"
            ? "its numbers are in the panel"
            : "its keys are in the lanes";
      if (kept) say(`${name[0].toUpperCase()}${name.slice(1)}: ${where}.`, true);
    });
  };
  /** Give it back at once, so that what comes next finds the scene as it is kept. */
  const leave = () => {
    session.cancel();
    session.frames.seek(first);
    back();
  };
  useEffect(() => {
    const inside = (target: EventTarget | null) =>
      inOverlay(target) || (target instanceof Element && target.closest("[data-testid=drawer]") !== null);
    const hear = (event: KeyboardEvent) => {
      const { target, key } = event;
      const typing = target instanceof HTMLElement && target.dataset.typing === "yes";
      const pressed = target instanceof Element && target.matches("button, select, input");
      if (typing || inOverlay(target) || PASSING.has(key)) return;
      if (looking().spot) {
        event.stopImmediatePropagation();
        if (key === "Escape") setLooking({ spot: null });
        return;
      }
      const undoes = key.toLowerCase() === "z" && (event.ctrlKey || event.metaKey);
      const takes = key === "Enter" && !pressed;
      const plays = key === " " && !pressed;
      if (key === "Escape" || undoes || takes || plays) {
        event.preventDefault();
        event.stopImmediatePropagation();
        if (takes && !event.repeat) take();
        else if (key === "Escape" || undoes) leave();
      } else if (!inside(target)) leave();
    };
    // A hand that turns to something else gives the recipe back, and works on the scene as it is kept.
    const down = ({ target }: PointerEvent) => {
      if (!inside(target) && !looking().spot) leave();
    };
    window.addEventListener("keydown", hear, true);
    window.addEventListener("pointerdown", down, true);
    return () => {
      window.removeEventListener("keydown", hear, true);
      window.removeEventListener("pointerdown", down, true);
    };
  });

  return (
    <Flex direction="column" gap="2" role="group" aria-label={`Recipe ${name}`}>
      <Flex align="center" gap="1">
        <Pill look="bare" label="Back to the recipes (Esc)" height="24px" px="1" onClick={leave}>
          <ArrowLeft size={15} />
        </Pill>
        <Text fontWeight={700}>{name}</Text>
      </Flex>
      <Text color="quiet" fontSize="row">
        {recipe.sentence}
      </Text>
      {recipe.fields.map((field) => (
        <Flex key={field.name} align="center" gap="2" minHeight="28px">
          <Text flex="1">{field.label}</Text>
          <Control
            field={field}
            value={values[field.name]}
            set={(value) => setValues((before) => ({ ...before, [field.name]: value }))}
          />
        </Flex>
      ))}
      {recipe.name === "impact" && (
        <ImpactSheet values={values} set={setValues} beat={beat} setBeat={setBeat} first={recipe} />
      )}
      {many && (
        <>
          <Flex align="center" gap="2">
            <Text flex="1">Stagger</Text>
            <NumberField
              label="Stagger"
              unit="f"
              width="84px"
              read={() => stagger}
              keep={(value) => setStagger(Math.max(Math.round(value), 0))}
              attempt={(value) => setStagger(Math.max(Math.round(value), 0))}
            />
          </Flex>
          <Flex align="center" gap="2">
            <Text flex="1">Order</Text>
            <Select label="Order" width="140px" value={order} options={ORDERS} onChange={setOrder} />
          </Flex>
        </>
      )}
      <Flex gap="2" mt="1">
        <Pill look="act" flex="1" onClick={take}>
          {many ? `Use it on ${layers.length} layers` : "Use it"}
        </Pill>
        <Pill onClick={leave}>Back</Pill>
      </Flex>
    </Flex>
  );
}

/** A recipe's numbers as they come; a point that is not given is the middle of the scene. */
const startOf = (recipe: RecipeFacts, width: number, height: number): Values =>
  Object.fromEntries(recipe.fields.map(({ name, default: given }) => [name, given ?? [width / 2, height / 2]]));

function Control({ field, value, set }: { field: RecipeField; value: unknown; set: (value: unknown) => void }) {
  if (field.kind === "choice")
    return <Select label={field.label} width="140px" value={String(value)} options={field.choices} onChange={set} />;
  if (field.kind === "easing") {
    const own = typeof field.default === "string" ? [] : [["own", "its own"] as [string, string]];
    return (
      <Select
        label={field.label}
        width="140px"
        value={typeof value === "string" ? value : "own"}
        options={[...own, ...EASINGS.map((name): [string, string] => [name, name])]}
        onChange={(name) => set(name === "own" ? field.default : name)}
      />
    );
  }
  const fit = (given: number) => {
    const within = Math.min(Math.max(given, field.low ?? -1e6), field.high ?? 1e6);
    if (within !== given) say(`${field.label} stops at ${within}${field.unit ? ` ${field.unit}` : ""}.`);
    return field.whole ? Math.round(within) : within;
  };
  if (field.kind === "colour")
    return (
      <chakra.input
        type="color"
        aria-label={field.label}
        value={String(value).slice(0, 7)}
        width="57px"
        height="control"
        padding="2px"
        borderWidth="1px"
        borderColor="field"
        borderRadius="control"
        bg="well"
        onChange={(event) => set(`${event.currentTarget.value}ff`)}
      />
    );
  if (field.kind === "pair") {
    const pair = value as [number, number];
    const spot = field.unit === "px" && (
      <IconButton
        key="spot"
        label={`Pick ${field.label.toLowerCase()} on the stage`}
        onClick={() =>
          setLooking({
            spot: ([x, y]) => set([Math.round(x), Math.round(y)]),
            pick: null,
            measure: null,
          })
        }
      >
        <Crosshair size={13} />
      </IconButton>
    );
    const fields = field.parts.map((part, i) => {
      const put = (given: number) => set(pair.with(i, fit(given)));
      return (
        <NumberField
          key={part}
          label={`${field.label} ${part}`}
          unit={part}
          width="68px"
          step={field.step}
          read={() => pair[i]}
          keep={put}
          attempt={put}
        />
      );
    });
    return [...fields, spot];
  }
  return (
    <NumberField
      label={field.label}
      unit={field.unit}
      width="84px"
      step={field.step}
      read={() => value as number}
      keep={(given) => set(fit(given))}
      attempt={(given) => set(fit(given))}
    />
  );
}
