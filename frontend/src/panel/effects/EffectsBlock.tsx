import { Ellipsis, Plus } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Layer } from "../../api/client";
import { Block } from "../../fields/Block";
import { type Act, openMenuBelow } from "../../parts/FloatMenu";
import { IconButton } from "../../parts/IconButton";
import { Pill } from "../../parts/Pill";
import { follow } from "../../parts/press";
import { Box, Flex } from "../../parts/styled";
import { TextInput } from "../../parts/TextInput";
import { useLooks } from "../../session/looks";
import { useSession } from "../../session/session";
import { copyEffects, showEffect, useEffects } from "../../state/effects";
import { say, sayProblem, setPage } from "../../state/page";
import { EffectRow } from "./EffectRow";

/** What is done to the picture of a layer or of an item, one after another; in an order that is dragged. */
export function EffectsBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const effects = layer.effects ?? [];
  const copied = useEffects((state) => state.copied);
  const [keeping, setKeeping] = useState(false);
  const list = useRef<HTMLDivElement>(null);
  const [line, setLine] = useState<number | null>(null);
  const id = layer.id!;
  // What is worked on ends with its panel.
  useEffect(() => () => showEffect(null), []);
  const paste = (replace: boolean) =>
    void session.edit({ edit: "paste_effects", layers: [id], effects: copied as never, replace });
  const offer = (button: Element) => {
    const acts: (Act | false)[] = [
      effects.length > 0 && [
        "Copy the effects",
        () => {
          copyEffects(effects);
          say(
            `Copied ${effects.length === 1 ? "an effect" : `${effects.length} effects`}: paste them on other layers.`,
          );
        },
      ],
      copied.length > 0 && ["Paste effects after these", () => paste(false)],
      copied.length > 0 && effects.length > 0 && ["Paste effects in place of these", () => paste(true)],
      effects.length > 0 && ["Keep as a look of the project…", () => setKeeping(true)],
    ];
    openMenuBelow(
      "Effects",
      acts.filter((act): act is Act => act !== false),
      button,
    );
  };
  /** Drag an effect to another place: a line shows where it would go. */
  const reorder = (event: React.PointerEvent, from: number) => {
    if (event.button !== 0 || layer.locked) return;
    event.preventDefault();
    let to: number | null = null;
    follow({
      move: ({ clientY }) => {
        const rows = [...list.current!.children].map((row) => row.getBoundingClientRect());
        to = rows.filter(({ top, height }) => clientY > top + height / 2).length;
        setLine(to);
      },
      end: () => {
        setLine(null);
        const place = to === null ? from : to > from ? to - 1 : to;
        if (place !== from) void session.edit({ edit: "set_effect", layer: id, effect: effects[from].id!, to: place });
      },
      cancel: () => setLine(null),
    });
  };
  /** While it is held, the stage shows the layer without its effects. */
  const before = () =>
    session.try(
      effects
        .filter(({ visible }) => visible !== false)
        .map((one) => ({ edit: "set_effect", layer: id, effect: one.id!, visible: false })),
    );
  return (
    <Block
      name="Effects"
      beside={
        <Flex flex="1" justify="flex-end" align="center" gap="1">
          {effects.length > 0 && !layer.locked && (
            <Pill
              px="2"
              label="Before: held, the stage shows the layer without its effects"
              onPointerDown={before}
              onPointerUp={() => session.cancel()}
              onPointerLeave={() => session.cancel()}
              onKeyDown={(event) => (event.key === " " || event.key === "Enter") && !event.repeat && before()}
              onKeyUp={() => session.cancel()}
              onBlur={() => session.cancel()}
            >
              Before
            </Pill>
          )}
          {(effects.length > 0 || copied.length > 0) && (
            <Pill
              look="bare"
              px="1"
              height="24px"
              label="Copy, paste or keep effects"
              aria-haspopup="menu"
              disabled={layer.locked}
              onClick={({ currentTarget }) => offer(currentTarget)}
            >
              <Ellipsis size={15} />
            </Pill>
          )}
          <IconButton label="Add an effect" disabled={layer.locked} onClick={() => setPage({ drawer: "effects" })}>
            <Plus size={15} />
          </IconButton>
        </Flex>
      }
    >
      <Box role="list" aria-label={`Effects of ${layer.name}`} ref={list}>
        {effects.map((effect, index) => (
          <EffectRow
            key={effect.id}
            layer={layer}
            effect={effect}
            index={index}
            last={index === effects.length - 1}
            line={line === index ? "above" : line === effects.length && index === line - 1 ? "below" : null}
            grab={(event) => reorder(event, index)}
          />
        ))}
      </Box>
      {keeping && <KeepLook effects={effects} done={() => setKeeping(false)} />}
    </Block>
  );
}

/** A name under which the project keeps the effects of a layer. */
function KeepLook({ effects, done }: { effects: NonNullable<Layer["effects"]>; done: () => void }) {
  const { keep } = useLooks();
  const [name, setName] = useState("");
  const keepIt = () => {
    const called = name.trim();
    if (!called) return;
    keep(called, effects)
      .then(() => say(`“${called}” is kept: it is among the effects of this project.`))
      .catch(sayProblem);
    done();
  };
  return (
    <Flex gap="1.5" mt="2">
      <TextInput
        aria-label="Name of the look"
        placeholder="Name of the look"
        value={name}
        flex="1"
        minWidth="0"
        maxLength={200}
        autoFocus
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter" && !event.repeat) keepIt();
          if (event.key === "Escape") done();
        }}
      />
      <Pill height="control" disabled={!name.trim()} onClick={keepIt}>
        Keep
      </Pill>
    </Flex>
  );
}
