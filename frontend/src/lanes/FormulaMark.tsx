import { useEffect, useState } from "react";
import { useSession } from "../session/session";

/** That a property has a formula, and whether something is wrong with it. */
export function FormulaMark({ layer, name }: { layer: string; name: string }) {
  const session = useSession();
  const [wrong, setWrong] = useState("");
  useEffect(() => {
    const look = () => setWrong(session.frames.layer(layer)?.problems[name] ?? "");
    look();
    return session.frames.subscribeCalmly(look);
  }, [session, layer, name]);
  return (
    <span
      data-testid="formula-mark"
      data-wrong={wrong ? "yes" : ""}
      title={wrong || "It has a formula"}
      style={{
        font: "11px var(--chakra-fonts-mono, monospace)",
        color: wrong ? "var(--chakra-colors-anchor-ink)" : "var(--chakra-colors-act)",
        flex: "none",
      }}
    >
      {wrong ? "f(t)!" : "f(t)"}
    </span>
  );
}
