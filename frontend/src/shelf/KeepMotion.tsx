import { Plus } from "lucide-react";
import { useRef, useState } from "react";
import type { Layer } from "../api/client";
import { NameInput } from "../parts/NameInput";
import { Pill } from "../parts/Pill";
import { Flex } from "../parts/styled";
import { useMotions } from "../session/motions";
import { useSession } from "../session/session";
import { say, sayProblem } from "../state/page";

/** Keep the keyed motion of a layer under a name, as a recipe for other layers. */
export function KeepMotion({ layer }: { layer: Layer }) {
  const session = useSession();
  const { keep } = useMotions();
  const [typed, setTyped] = useState<string | null>(null);
  const busy = useRef(false);
  // What was typed stays until it is kept.
  const take = async () => {
    const name = typed?.trim();
    if (!name || busy.current) return;
    busy.current = true;
    try {
      await keep(name, session.sceneId, layer.id!);
      setTyped(null);
      say(`Kept the motion of ${layer.name} as ${name}: it is among this project’s own.`);
    } catch (error) {
      sayProblem(error);
    }
    busy.current = false;
  };
  if (typed === null)
    return (
      <Pill
        mt="3"
        height="control"
        label="Keep its motion as a recipe for other layers"
        title="Its keys, relative to where they land, for other layers of the project"
        onClick={() => setTyped("")}
      >
        <Plus size={12} /> Keep its motion
      </Pill>
    );
  return (
    <Flex mt="3" gap="1.5">
      <NameInput
        label="Name of the motion"
        value={typed}
        change={setTyped}
        take={() => void take()}
        leave={() => setTyped(null)}
      />
      <Pill height="control" disabled={!typed.trim()} onClick={() => void take()}>
        Keep
      </Pill>
    </Flex>
  );
}
