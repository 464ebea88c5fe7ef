import { type ComponentProps, lazy, Suspense } from "react";
import { Box } from "../parts/styled";

const Whole = lazy(() => import("./FormulaRow").then(({ FormulaRow }) => ({ default: FormulaRow })));

/** The formula of a property. Its editor is loaded when it is first opened: nothing else waits for it. */
export function FormulaRow(props: ComponentProps<typeof Whole>) {
  return (
    <Suspense fallback={<Box height="62px" />}>
      <Whole {...props} />
    </Suspense>
  );
}
