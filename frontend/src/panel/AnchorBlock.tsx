import { CircleHelp } from "lucide-react";
import { row } from "../api/arrays";
import type { Edit, Layer } from "../api/client";
import { isKeyed } from "../document/tracks";
import { FoldButton, useIsFolded } from "../fields/Block";
import { NumberField } from "../fields/NumberField";
import { anchorAt } from "../geometry/layerGeometry";
import { KeySteps, Pebble } from "../keys/Pebble";
import { Choice } from "../parts/Choice";
import { IconButton } from "../parts/IconButton";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { SCOPES } from "../state/anchorScopes";
import { setPage } from "../state/page";
import { type Scope, setTools, tools, useTools } from "../state/tools";
import { AnchorPad } from "./AnchorPad";
import { RowMenu } from "./RowMenu";

const UNITS: [string, string][] = [
  ["%", "% of box"],
  ["px", "px in layer"],
  ["scene", "px in scene"],
];

/** The anchor, first in the panel: the box with its nine stations, the numbers, and what stays put. */
export function AnchorBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const { scene } = useScene();
  const keep = useTools((state) => state.keep);
  const unit = useTools((state) => state.anchorUnit);
  const scope = useTools((state) => state.scope);
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

  const heading = (
    <Flex align="center" gap="1.5" height="control" flex="1">
      <Pebble layer={layer} name="anchor" label="Anchor" track={layer.anchor!} tone="anchor" />
      <RowMenu layer={layer} name="anchor" label="Anchor" tone="anchorInk" />
      <Box flex="1" />
      <KeySteps layer={layer} name="anchor" label="Anchor" track={layer.anchor!} />
    </Flex>
  );
  if (folded)
    return (
      <Flex role="group" aria-label="Anchor" align="baseline" gap="0.5">
        <FoldButton name="Anchor" title="Anchor" />
        {heading}
      </Flex>
    );
  return (
    <Box role="group" aria-label="Anchor">
      <Flex gap="2.5">
        <Box position="relative">
          <AnchorPad layer={layer} />
          <Box position="absolute" top="4px" left="6px" color="quiet">
            <FoldButton name="Anchor" title="Anchor" />
          </Box>
        </Box>
        <Box flex="1" minWidth="0">
          {heading}
          <Text height="14px" lineHeight="14px" fontSize="caption" color="quiet">
            {layer.anchor!.pinned ? "pinned to the box" : "fixed in the layer"}
          </Text>
          <Flex gap="1" align="center">
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
            <Box flex="1" />
            <IconButton
              label="Explain the anchor: both spaces and the calculation"
              onClick={() => setPage({ dialog: "explain" })}
            >
              <CircleHelp size={14} />
            </IconButton>
          </Flex>
        </Box>
      </Flex>
      <Flex mt="1.5">
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
      {isKeyed(layer) && keep === "picture" && (
        <Flex mt="1.5" align="center" gap="2">
          <Text color="quiet" fontSize="row" whiteSpace="nowrap">
            Stays put at
          </Text>
          <Select
            label="The picture stays put at"
            value={scope}
            options={SCOPES.map(([value, text]) => [value, text])}
            onChange={(value) => setTools({ scope: value as Scope })}
          />
        </Flex>
      )}
      <Flex mt="1.5" gap="1" align="center">
        <Select
          label="Anchor in"
          value={unit}
          options={UNITS}
          onChange={(value) => setTools({ anchorUnit: value as typeof unit })}
        />
        <Pill
          fontSize="caption"
          px="1.5"
          title="Put the anchor at the scene's centre"
          disabled={layer.locked}
          onClick={() => void session.edit(moved({ scene: [scene.width / 2, scene.height / 2] }))}
        >
          Anchor to centre
        </Pill>
        <Pill
          fontSize="caption"
          px="1.5"
          title="Bring the layer so that its anchor is at the scene's centre"
          disabled={layer.locked}
          onClick={() =>
            void session.edit({ edit: "bring_to", layers: [id], frame: session.frames.frame, to: "scene centre" })
          }
        >
          Layer to centre
        </Pill>
      </Flex>
    </Box>
  );
}
