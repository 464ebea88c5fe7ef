import { PenTool } from "lucide-react";
import { useEffect } from "react";
import { inOverlay } from "../parts/focus";
import { Pill } from "../parts/Pill";
import { pressing } from "../parts/press";
import { useSession } from "../session/session";
import { DRAWN_WORDS, drawing, drawNext, typedSize, typeSize, useDrawing } from "../state/drawing";
import { drawnAbout, keepDrawn } from "./hands/draw";
import { StageNote } from "./StageNote";

/** What the next drag draws, and the size that is typed for it: with Enter it comes into the middle of the scene. */
export function DrawNote() {
  const session = useSession();
  const draws = useDrawing((state) => state.draws);
  const typed = useDrawing((state) => state.typed);
  const under = useDrawing((state) => state.under);
  useEffect(() => {
    if (!draws) return;
    const hear = (event: KeyboardEvent) => {
      const { key, target } = event;
      if (event.ctrlKey || event.metaKey || event.altKey || inOverlay(target)) return;
      if (target instanceof Element && target.matches("input, textarea, select")) return;
      const { typed } = drawing();
      const size = typedSize(typed);
      if (/^[\d.,x×*]$/i.test(key) || (key === " " && typed)) typeSize(typed + (key === "*" ? "x" : key));
      else if (key === "Backspace" && typed) typeSize(typed.slice(0, -1));
      else if (key === "Enter" && !pressing()) {
        if (!size || event.repeat) return;
        const { width, height } = session.answer!.scene;
        void keepDrawn(session, draws, drawnAbout([width / 2, height / 2], size, draws));
      } else return;
      event.preventDefault();
      event.stopImmediatePropagation();
    };
    window.addEventListener("keydown", hear, true);
    return () => window.removeEventListener("keydown", hear, true);
  }, [draws, session]);
  if (!draws) return null;
  const size = typedSize(typed);
  return (
    <StageNote testId="draw-note" side="left" icon={PenTool}>
      {DRAWN_WORDS[draws]}:{" "}
      {typed
        ? `${typed.replace(/[x*]/gi, "×")}${size ? ` px${under ? "" : "; Enter puts it into the middle"}` : " …"}`
        : under
          ? "type its size …"
          : "drag over the stage, or type a size such as 240 × 80"}
      <Pill height="20px" px="2" label="Draw nothing" onClick={() => drawNext(null)}>
        Esc
      </Pill>
    </StageNote>
  );
}
