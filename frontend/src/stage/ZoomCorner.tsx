import { fit, zoomToSelection } from "../acts/zoom";
import { Select } from "../parts/Select";
import { Box } from "../parts/styled";
import { useSession } from "../session/session";
import { setViewport, useViewport } from "../state/viewport";

const ZOOMS: [string, string][] = [
  ["fit", "Zoom fit"],
  ["0.25", "25 %"],
  ["0.5", "50 %"],
  ["1", "100 %"],
  ["2", "200 %"],
  ["4", "400 %"],
  ["8", "800 %"],
  ["16", "1600 %"],
  ["selection", "Selection"],
];

/** How large the scene is shown, in a corner of the stage. */
export function ZoomCorner() {
  const session = useSession();
  const zoom = useViewport((state) => state.zoom);
  const known = zoom === null ? "fit" : String(zoom);
  const zooms = ZOOMS.some(([value]) => value === known)
    ? ZOOMS
    : [...ZOOMS, [known, `${Math.round(zoom! * 100)} %`] as [string, string]];
  return (
    <Box position="absolute" right="6px" bottom="6px" opacity={0.85} _hover={{ opacity: 1 }}>
      <Select
        label="Zoom"
        width="86px"
        value={known}
        options={zooms}
        onChange={(value) => {
          if (value === "fit") fit();
          else if (value === "selection") zoomToSelection(session);
          else setViewport({ zoom: Number(value) });
        }}
      />
    </Box>
  );
}
