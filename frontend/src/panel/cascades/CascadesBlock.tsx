import { Plus } from "lucide-react";
import { useEffect } from "react";
import type { Layer } from "../../api/client";
import { cascadesOf, hasWords } from "../../document/contents";
import { Block } from "../../fields/Block";
import { IconButton } from "../../parts/IconButton";
import { Pill } from "../../parts/Pill";
import { Flex } from "../../parts/styled";
import { useCascadeFacts } from "../../session/cascades";
import { useSession } from "../../session/session";
import { setCascade, showCascade, useCascade } from "../../state/cascades";
import { setPage } from "../../state/page";
import { KeepCascade } from "./KeepCascade";
import { nameOf, OneCascade } from "./OneCascade";

/** The cascades of a text or of shapes: units that are moved one after another; one of them is worked on. */
export function CascadesBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const cascades = cascadesOf(layer.content);
  const shown = useCascade();
  const facts = useCascadeFacts(layer);
  const index = shown.layer === layer.id && shown.index < cascades.length ? shown.index : 0;
  const id = layer.id!;
  const units = facts[index]?.units;
  const on = shown.layer === id && shown.index === index;
  // Its units show on the stage.
  useEffect(() => {
    if (on && units) setCascade({ units });
  }, [on, units]);
  // What is worked on ends with its panel.
  useEffect(() => () => showCascade(null), []);
  const add = () => {
    const start = Math.max(session.frames.frame - layer.span.start, 0);
    const unit = hasWords(layer.content) ? "letter" : "item";
    const fresh = { unit, start, offset: { rest: [0, 40] }, opacity: { rest: 0 } };
    void session
      .edit({ edit: "set_content", layer: id, path: "cascades", value: [...cascades, fresh] as never })
      .then((kept) => kept && showCascade(id, cascades.length));
  };
  const without = (gone: number) =>
    void session.edit({
      edit: "set_content",
      layer: id,
      path: "cascades",
      value: cascades.filter((_, at) => at !== gone) as never,
    });
  return (
    <Block
      name="Cascades"
      beside={
        <Flex flex="1" justify="flex-end" align="center" gap="1">
          {hasWords(layer.content) && (
            <Pill
              px="2"
              label="Ready-made cascades: letters, words and lines that come one after another"
              onClick={() => setPage({ drawer: "recipes" })}
            >
              Ready-made…
            </Pill>
          )}
          <IconButton label="Add a cascade from the playhead on" disabled={layer.locked} onClick={add}>
            <Plus size={15} />
          </IconButton>
        </Flex>
      }
    >
      {cascades.length > 0 && (
        <Flex role="group" aria-label={`Cascades of ${layer.name}`} gap="1.5" wrap="wrap" mb="1">
          {cascades.map((cascade, at) => (
            <Pill
              key={at}
              px="2"
              look={at === index && shown.layer === id ? "on" : "plain"}
              aria-pressed={at === index && shown.layer === id}
              label={`Work on the cascade ${nameOf(cascade)}`}
              opacity={cascade.on === false ? 0.5 : 1}
              onClick={() => showCascade(shown.layer === id && at === index ? null : id, at)}
            >
              {nameOf(cascade)}
            </Pill>
          ))}
        </Flex>
      )}
      {cascades[index] && (
        <OneCascade
          key={index}
          layer={layer}
          cascade={cascades[index]}
          index={index}
          facts={facts[index]}
          remove={() => without(index)}
        />
      )}
      {cascades[index] && hasWords(layer.content) && <KeepCascade cascade={cascades[index]} facts={facts[index]} />}
    </Block>
  );
}
