import { Clapperboard } from "lucide-react";
import { Pill } from "../parts/Pill";
import { useSession } from "../session/session";
import { comeOut, stepsTo, useTrail } from "../session/trail";
import { useScene } from "../session/useScene";
import { StageNote } from "./StageNote";

/** That this scene is gone into from another one, whether that is shown around it, and the way out. */
export function InnerNote() {
  const session = useSession();
  const { scene } = useScene();
  const all = useTrail((state) => state.steps);
  const surroundings = useTrail((state) => state.surroundings);
  const step = stepsTo(all, session.sceneId).at(-1);
  if (!step) return null;
  return (
    <StageNote testId="inner-note" side="right" icon={Clapperboard}>
      {step.name} › {scene.name}
      <Pill
        height="20px"
        px="2"
        look={surroundings ? "on" : "plain"}
        aria-pressed={surroundings}
        title={`Show ${step.name} around it, dimmed`}
        onClick={() => useTrail.setState({ surroundings: !surroundings })}
      >
        Surroundings
      </Pill>
      <Pill height="20px" px="2" label={`Come out to ${step.name}`} onClick={() => comeOut(step)}>
        Out
      </Pill>
    </StageNote>
  );
}
