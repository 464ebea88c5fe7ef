import { row } from "../../api/arrays";
import type { Edit, Layer } from "../../api/client";
import { heardOnly } from "../../document/contents";
import { isBare, isItem } from "../../document/items";
import { Row } from "../../fields/Row";
import { RowLabel } from "../../fields/RowLabel";
import { Select } from "../../parts/Select";
import { Flex } from "../../parts/styled";
import { Toggle } from "../../parts/Toggle";
import { useSession } from "../../session/session";
import { useScene } from "../../session/useScene";
import type { TextContent } from "./textScope";

const MEASURES: [string, string][] = [
  ["lines", "lines"],
  ["ink", "ink"],
  ["capitals", "capitals"],
];

/** The formula of a width as that of a layer. */
const widthOf = (name: string) => `scene[${JSON.stringify(name)}].box.width`;

/** How a text stands: aligned, in a block that breaks its lines or free, and what its box goes by. */
export function TextBox({ layer }: { layer: Layer }) {
  const session = useSession();
  const content = layer.content as TextContent;
  const { block } = content;
  const { scene } = useScene();
  const others = (scene.layers ?? []).filter((one) => one.id !== layer.id && !heardOnly(one.content));
  const ways = (scene.layers ?? [])
    .filter((one) => one.id !== layer.id && (isBare(one) || one.id === content.path?.layer))
    .map((one): [string, string] => [one.id!, one.name]);
  /** The layer that the block is as wide as. */
  const followed = others.find(({ name }) => block?.width?.formula === widthOf(name));
  const setOf = (path: string, value: unknown): Edit => ({
    edit: "set_content",
    layer: layer.id!,
    path,
    value: value as never,
  });
  const set = (path: string, value: unknown) => void session.edit(setOf(path, value));
  /** As large as the text is now, so that nothing moves. */
  const made = () => {
    const arrays = session.frames.layer(layer.id!);
    const [, , width, height] = arrays ? row(arrays, arrays.box, session.frames.frame) : [0, 0, 800, 400];
    return { width: Math.max(Math.ceil(width) + 1, 1), height: Math.max(Math.ceil(height), 1) };
  };
  /** As high as lines are now. */
  const leadingNow = () => {
    const arrays = session.frames.layer(layer.id!);
    const at = (path: string) => (arrays ? row(arrays, arrays.values[`content.${path}`], session.frames.frame)[0] : 0);
    return Math.max(Math.round((at("size") * at("line_height")) / 10) / 10, 0.1);
  };
  /** Set smaller until it fits the width of another layer: in a block as wide as that one is, and as high as it is now. */
  const shrink = (name: string) => {
    const [id, value] = [
      layer.id!,
      { width: { rest: made().width }, height: { rest: made().height }, least: { rest: 1 } },
    ];
    const edits: Edit[] = block
      ? [
          ...(block.height ? [] : [setOf("block.height", value.height)]),
          ...(block.least ? [] : [setOf("block.least", value.least)]),
        ]
      : [setOf("block", value)];
    void session.edit(...edits, {
      edit: "set_formula",
      layer: id,
      property: "content.block.width",
      text: widthOf(name),
    });
  };
  return (
    <>
      <Row label="Alignment and box">
        <RowLabel>Align</RowLabel>
        <Select
          label="Alignment"
          value={content.align ?? "left"}
          onChange={(value) => set("align", value)}
          options={["left", "centre", "right", ...(block || content.align === "justify" ? ["justify"] : [])]}
          disabled={layer.locked}
        />
        <Select
          label="Box by: the lines, what is seen of the letters, or the capitals"
          value={content.measure ?? "lines"}
          onChange={(value) => set("measure", value)}
          options={MEASURES.map(([key, label]): [string, string] => [key, `box by ${label}`])}
          disabled={layer.locked}
        />
      </Row>
      <Row label="Path">
        <RowLabel title="The outline of another layer that the text runs along">Along</RowLabel>
        <Select
          label="Runs along"
          value={content.path?.layer ?? ""}
          onChange={(path) => void session.edit({ edit: "put_on_path", layer: layer.id!, path: path || null })}
          options={[["", "no path"], ...ways]}
          disabled={layer.locked || isItem(layer.id!)}
        />
        {!content.path && (
          <Select
            label="From where paragraphs are read"
            width="84px"
            value={content.direction ?? "auto"}
            onChange={(value) => set("direction", value)}
            options={[
              ["auto", "auto"],
              ["left to right", "from left"],
              ["right to left", "from right"],
            ]}
            disabled={layer.locked}
          />
        )}
        {content.path && (
          <Select
            label="Side of the path"
            width="84px"
            value={content.path.side ?? "above"}
            onChange={(side) => set("path.side", side)}
            options={["above", "below", "inside"]}
            disabled={layer.locked}
          />
        )}
      </Row>
      {block && (
        <Row label="Width of the block">
          <RowLabel title="As wide as another layer is, by a formula">As wide as</RowLabel>
          <Select
            label="As wide as"
            value={followed?.id ?? ""}
            onChange={(id) => {
              const name = others.find((one) => one.id === id)?.name;
              void session.edit({
                edit: "set_formula",
                layer: layer.id!,
                property: "content.block.width",
                text: name === undefined ? "" : widthOf(name),
              });
            }}
            options={[
              ["", block.width?.formula ? "its formula" : "its number"],
              ...others.map(({ id, name }): [string, string] => [id!, name]),
            ]}
            disabled={layer.locked}
          />
        </Row>
      )}
      {others.length > 0 && !content.path && (
        <Row label="Shrink to a width">
          <RowLabel title="Set smaller where it is wider than another layer, in a block as wide as that one">
            Shrink to
          </RowLabel>
          <Select
            label="Shrink to"
            value={(block?.least && block.height && followed?.id) || ""}
            onChange={(id) => {
              const name = others.find((one) => one.id === id)?.name;
              if (name !== undefined) shrink(name);
              else if (block) void session.edit(setOf("block.least", null));
            }}
            options={[["", "no layer"], ...others.map(({ id, name }): [string, string] => [id!, name])]}
            disabled={layer.locked}
          />
        </Row>
      )}
      <Flex gap="1.5" wrap="wrap" pl="82px" mb="1">
        {content.path && (
          <Toggle
            label="Upright"
            title="Upright: letters are not turned with the path"
            on={Boolean(content.path.upright)}
            disabled={layer.locked}
            press={() => set("path.upright", !content.path!.upright)}
          />
        )}
        {!content.path && (
          <Toggle
            label="Vertical"
            title="Vertical: lines run down, the first at the right; a block breaks them where its height is given"
            on={Boolean(content.vertical)}
            disabled={layer.locked}
            press={() => set("vertical", !content.vertical)}
          />
        )}
        <Toggle
          label="Px leading"
          title="Px leading: lines as high as a number of pixels, whatever the size of the letters"
          on={Boolean(content.leading)}
          disabled={layer.locked}
          press={() => set("leading", content.leading ? null : { rest: leadingNow() })}
        />
        <Toggle
          label="Block"
          title="Block: lines break where they no longer fit its width"
          on={Boolean(block)}
          disabled={layer.locked}
          press={() => set("block", block ? null : { width: { rest: made().width } })}
        />
        {block && (
          <>
            <Toggle
              label="Own height"
              title="Own height: else it is as high as its lines"
              on={Boolean(block.height)}
              disabled={layer.locked}
              press={() => set("block.height", block.height ? null : { rest: made().height })}
            />
            <Toggle
              label="Fit"
              title="Fit: set smaller, down to a smallest size, until it fits"
              on={Boolean(block.least)}
              disabled={layer.locked}
              press={() => set("block.least", block.least ? null : { rest: 8 })}
            />
            <Toggle
              label="Hang marks"
              title="Hang marks: full stops, hyphens and quotes stand outside"
              on={Boolean(block.hanging)}
              disabled={layer.locked}
              press={() => set("block.hanging", !block.hanging)}
            />
            {block.height && (
              <Select
                label="Where the lines stand in the height"
                width="84px"
                value={block.stands ?? "top"}
                onChange={(value) => set("block.stands", value)}
                options={["top", "middle", "bottom"]}
                disabled={layer.locked}
              />
            )}
          </>
        )}
      </Flex>
    </>
  );
}
