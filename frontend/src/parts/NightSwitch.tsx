import { Moon, Sun } from "lucide-react";
import { useState } from "react";
import { isNight, setNight } from "../theme/night";
import { Pill } from "./Pill";

/** Day or night theme. */
export function NightSwitch() {
  const [night, set] = useState(isNight());
  return (
    <Pill
      label={night ? "Day theme" : "Night theme"}
      look="bare"
      onClick={() => {
        setNight(!night);
        set(!night);
      }}
    >
      {night ? <Sun size={15} /> : <Moon size={15} />}
    </Pill>
  );
}
