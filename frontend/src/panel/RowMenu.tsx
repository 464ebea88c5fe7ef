import type { Edit, Layer } from "../api/client";
import { isKeyed, OWN } from "../document/tracks";
import { type Act, openMenuBelow } from "../parts/FloatMenu";
import { chakra } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { makeSlot, openSlots } from "../slots/makeSlot";
import { slotAt } from "../slots/slotAt";
import { SCOPES } from "../state/anchorScopes";
import { setFormulaOpen, useCopied } from "../state/formulas";
import { setTools, tools } from "../state/tools";

interface Props {
  layer: Layer;
  name: string;
  label: string;
  tone: string;
}

/** When the picture stays put as the anchor moves: of a layer in motion, as it stands beside the mark on the stage. */
const scopes = (): Act[] =>
  SCOPES.map(([scope, words]) => [
    `Picture stays put: ${words}`,
    () => setTools({ scope }),
    tools().scope === scope ? "✓" : "",
  ]);

/** A property's name: pressed, it offers what can be done with the property as a whole. */
export function RowMenu({ layer, name, label, tone }: Props) {
  const session = useSession();
  const { scene } = useScene();
  const id = layer.id!;
  const own = name.split(".")[0];
  const acts: [string, Edit | (() => void)][] = [];
  if ((OWN as readonly string[]).includes(own))
    acts.push([`Reset ${own}`, { edit: "reset_properties", layer: id, properties: [own] }]);
  if (name === "position") acts.push(["Split into x and y", { edit: "split_position", layer: id }]);
  if (name.startsWith("position.")) acts.push(["Join x and y", { edit: "join_position", layer: id }]);
  if (name === "anchor")
    acts.push([
      layer.anchor!.pinned ? "Fix in the layer" : "Pin to the box",
      { edit: "pin_anchor", layer: id, pinned: !layer.anchor!.pinned },
    ]);
  if (name !== "anchor" && !name.endsWith(".points")) acts.push(["Formula…", () => setFormulaOpen(id, name, true)]);
  const slot = slotAt(scene, layer, name);
  if (slot) acts.push([`Slot “${slot}”…`, openSlots]);
  else if (name !== "anchor" && !name.endsWith(".points") && !name.endsWith("written"))
    acts.push(["Make a slot", () => void makeSlot(session, id, name, label)]);
  const stop = /^content\.items\.0\.(fill|stroke\.colour)\.stops\.(\d+)\./.exec(name);
  if (stop)
    acts.push([
      "Remove this stop",
      { edit: "remove_stop", layer: id, paint: stop[1] === "fill" ? "fill" : "stroke", stop: Number(stop[2]) },
    ]);
  const { text: copied } = useCopied();
  if (copied && !name.endsWith(".points"))
    acts.push(["Paste the formula", { edit: "set_formula", layer: id, property: name, text: copied }]);
  const text = (
    <chakra.span
      width="60px"
      flex="none"
      fontWeight={600}
      color={tone}
      fontSize="row"
      truncate
      textAlign="left"
      title={slot ? `${label}: filled by the slot ${slot}` : label}
    >
      {slot && "# "}
      {label}
    </chakra.span>
  );
  if (!acts.length || layer.locked) return text;
  return (
    <chakra.button
      type="button"
      aria-label={`${label}: reset and more`}
      aria-haspopup="menu"
      title={`${label}: reset and more`}
      cursor="pointer"
      display="inline-flex"
      borderRadius="5px"
      _hover={{ textDecoration: "underline" }}
      _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
      onClick={(event) =>
        openMenuBelow(
          label,
          [
            acts.map(([words, act]): Act => [words, typeof act === "function" ? act : () => void session.edit(act)]),
            ...(name === "anchor" && isKeyed(layer) ? [scopes()] : []),
          ],
          event.currentTarget,
        )
      }
    >
      {text}
    </chakra.button>
  );
}
