import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignHorizontalSpaceBetween,
  AlignStartHorizontal,
  AlignStartVertical,
  AlignVerticalSpaceBetween,
} from "lucide-react";
import { useState } from "react";
import type { Edit, Layer } from "../api/client";
import { hasItems } from "../document/contents";
import { isItem } from "../document/items";
import { Block } from "../fields/Block";
import { Choice } from "../parts/Choice";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { setHabits, useHabits } from "../state/habits";

type Align = Extract<Edit, { edit?: "align" }>;

const EDGES: [Align["edge"], string, typeof AlignStartVertical][] = [
  ["left", "Left edges", AlignStartVertical],
  ["centre x", "Centres, left to right", AlignCenterVertical],
  ["right", "Right edges", AlignEndVertical],
  ["top", "Top edges", AlignStartHorizontal],
  ["centre y", "Centres, top to bottom", AlignCenterHorizontal],
  ["bottom", "Bottom edges", AlignEndHorizontal],
];

/** Aligning and distributing, and what handles change. */
export function ArrangeBlock({ layers }: { layers: Layer[] }) {
  const session = useSession();
  const many = layers.length > 1;
  const inside = isItem(layers[0].id!);
  const [to, setTo] = useState<NonNullable<Align["to"]>>(many ? "selection" : inside ? "anchor" : "scene");
  const ids = layers.map((layer) => layer.id!);
  const locked = layers.some((layer) => layer.locked);
  const now = () => ({ layers: ids, frame: session.frames.frame });
  return (
    <Block
      name="Arrange"
      title="Align to"
      beside={
        <Select
          label="Align to"
          value={to}
          options={[
            ...(inside ? [] : ([["scene", "the scene"]] as [string, string][])),
            ["selection", "the selection"],
            ...(many ? ([["first", `${layers[0].name}, the first`]] as [string, string][]) : []),
            ["anchor", many ? `the anchor of ${layers[0].name}` : "its anchor"],
          ]}
          onChange={(value) => setTo(value as typeof to)}
        />
      }
    >
      <Flex gap="1" mt="1">
        {EDGES.map(([edge, label, Icon]) => (
          <Pill
            key={edge}
            px="1.5"
            label={label}
            disabled={locked}
            onClick={() => void session.edit({ edit: "align", edge, to, ...now() })}
          >
            <Icon size={15} />
          </Pill>
        ))}
        {(
          [
            ["x", "Equal gaps, left to right", AlignHorizontalSpaceBetween],
            ["y", "Equal gaps, top to bottom", AlignVerticalSpaceBetween],
          ] as const
        ).map(([axis, label, Icon]) => (
          <Pill
            key={axis}
            px="1.5"
            label={label}
            disabled={locked || layers.length < 3}
            onClick={() => void session.edit({ edit: "distribute", axis, ...now() })}
          >
            <Icon size={15} />
          </Pill>
        ))}
      </Flex>
      <Flex align="center" gap="2" mt="2">
        <Text whiteSpace="nowrap" color="quiet" fontSize="row">
          {many ? "Scale, turn about" : "Handles change"}
        </Text>
        {many ? <AboutChoice /> : hasItems(layers[0].content) && <HandleChoice />}
        {!many && !hasItems(layers[0].content) && <Text fontSize="row">the scale</Text>}
      </Flex>
    </Block>
  );
}

function HandleChoice() {
  const handleBy = useHabits((state) => state.handleBy);
  return (
    <Choice
      label="What handles change"
      value={handleBy}
      options={[
        ["scale", "Scale"],
        ["size", "Size"],
      ]}
      onChange={(value) => setHabits({ handleBy: value })}
    />
  );
}

function AboutChoice() {
  const about = useHabits((state) => state.about);
  return (
    <Choice
      label="About what several layers are scaled and turned"
      value={about}
      options={[
        ["box", "Common box"],
        ["own", "Own anchors"],
      ]}
      onChange={(value) => setHabits({ about: value })}
    />
  );
}
