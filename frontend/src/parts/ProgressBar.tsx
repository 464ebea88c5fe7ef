import { Box } from "./styled";

/** How far something is. */
export function ProgressBar({ label, done, total }: { label: string; done: number; total: number }) {
  return (
    <Box
      flex="1"
      height="7px"
      borderRadius="full"
      bg="panel"
      overflow="hidden"
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={total}
      aria-valuenow={done}
    >
      <Box height="100%" bg="act" width={`${(100 * done) / Math.max(total, 1)}%`} transition="width 0.3s" />
    </Box>
  );
}
