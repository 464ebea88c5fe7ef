import { CircleHelp } from "lucide-react";
import { row } from "../api/arrays";
import type { Edit, Layer } from "../api/client";
import { FoldButton, useIsFolded } from "../fields/Block";
import { NumberField } from "../fields/NumberField";
import { Row } from "../fields/Row";
import { anchorAt } from "../geometry/layerGeometry";
import { KeySteps, Pebble } from "../keys/Pebble";
import { Choice } from "../parts/Choice";
import { IconButton } from "../parts/IconButton";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { setPage } from "../state/page";
import { setTools, tools, useTools } from "../state/tools";
import { AnchorPad } from "./AnchorPad";
import { RowMenu } from "./RowMenu";

const UNITS: [string, string][] = [
  ["%", "box %"],
  ["px", "layer px"],
  ["scene", "scene px"],
];

/** The anchor, first in the panel: the box with its nine stations, the numbers, and what stays put. */
export function AnchorBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const { scene } = useScene();
  const keep = useTools((state) => state.keep);
  const unit = useTools((state) => state.anchorUnit);
  const folded = useIsFolded("Anchor");
  const id = layer.id!;

  const read = (part: 0 | 1) => () => {
    const now = session.frames.layer(id);
    if (!now) return null;
    const { frame } = session.frames;
    if (unit === "scene") return anchorAt(now, frame)[part];
    return unit === "%" ? row(now, now.fraction, frame)[part] * 100 : row(now, now.anchor, frame)[part];
  };
  const moved = (to: Extract<Edit, { edit?: "move_anchor" }>["to"]): Edit => ({
    edit: "move_anchor",
    layer: id,
    frame: session.frames.frame,
    keep,
    scope: tools().scope,
    to,
  });
  const change = (part: 0 | 1, value: number): Edit => {
    const pair: [number | null, number | null] = [null, null];
    pair[part] = unit === "%" ? value / 100 : value;
    return moved(unit === "%" ? { fraction: pair } : unit === "px" ? { content: pair } : { scene: pair });
  };

  const places: [words: string, title: string, edit: () => Edit][] = [
    [
      "Anchor to centre",
      "Put the anchor at the scene's centre",
      () => moved({ scene: [scene.width / 2, scene.height / 2] }),
    ],
    [
      "Layer to centre",
      "Bring the layer so that its anchor is at the scene's centre",
      () => ({ edit: "bring_to", layers: [id], frame: session.frames.frame, to: "scene centre" }),
    ],
  ];
  const numbers = (
    <Row label="Anchor" reads={`${id} anchor`}>
      <Pebble layer={layer} name="anchor" label="Anchor" track={layer.anchor!} tone="anchor" />
      <RowMenu layer={layer} name="anchor" label="Anchor" tone="anchorInk" />
      {(["x", "y"] as const).map((part, index) => (
        <NumberField
          key={part}
          label={`Anchor ${part}`}
          unit={part}
          width="57px"
          step={1}
          disabled={layer.locked}
          read={read(index as 0 | 1)}
          attempt={(value) => session.try([change(index as 0 | 1, value)])}
          keep={(value, run) => session.keep(run, change(index as 0 | 1, value))}
        />
      ))}
      <Select
        label="Anchor in"
        value={unit}
        options={UNITS}
        width="70px"
        onChange={(value) => setTools({ anchorUnit: value as typeof unit })}
      />
    </Row>
  );
  if (folded)
    return (
      <Flex role="group" aria-label="Anchor" align="center" gap="0.5">
        <FoldButton name="Anchor" title="Anchor" />
        <Box flex="1" minWidth="0">
          {numbers}
        </Box>
      </Flex>
    );
  return (
    <Box role="group" aria-label="Anchor">
      <Flex gap="2.5">
        <Box position="relative" flex="none">
          <AnchorPad layer={layer} />
          <Box position="absolute" top="4px" left="6px" color="quiet">
            <FoldButton name="Anchor" title="Anchor" />
          </Box>
        </Box>
        <Flex flex="1" minWidth="0" direction="column" gap="0.5" justify="space-between">
          {places.map(([words, title, edit]) => (
            <Pill key={words} title={title} disabled={layer.locked} onClick={() => void session.edit(edit())}>
              {words}
            </Pill>
          ))}
          <Flex height="12px" align="center" color="quiet">
            <Text flex="1" fontSize="caption" lineHeight="12px" truncate>
              {layer.anchor!.pinned ? "pinned to the box" : "fixed in the layer"}
            </Text>
            {(layer.anchor!.keys?.length ?? 0) > 0 && (
              <KeySteps layer={layer} name="anchor" label="Anchor" track={layer.anchor!} />
            )}
            <IconButton
              label="Explain the anchor: both spaces and the calculation"
              onClick={() => setPage({ dialog: "explain" })}
            >
              <CircleHelp size={14} />
            </IconButton>
          </Flex>
        </Flex>
      </Flex>
      <Flex mt="1">
        <Choice
          label="What stays put while the anchor moves"
          tone="anchor"
          value={keep}
          options={[
            ["picture", "Picture stays put"],
            ["anchor", "Anchor stays put"],
          ]}
          onChange={(value) => setTools({ keep: value })}
        />
      </Flex>
      <Box mt="-1px">{numbers}</Box>
    </Box>
  );
}
