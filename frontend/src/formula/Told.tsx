import type { FormulaProblem } from "../api/client";
import { Pill } from "../parts/Pill";
import { Box, Text } from "../parts/styled";

interface Props {
  id: string;
  problem: FormulaProblem;
  /** It has a value all the same. */
  hint?: boolean;
  place: boolean;
  put: (text: string) => void;
}

/** What is wrong with a formula, or looks so, and the buttons that mend it. */
export function Told({ id, problem, hint, place, put }: Props) {
  return (
    <Box
      id={id}
      role={hint ? "note" : "alert"}
      bg={hint ? "well" : "finding"}
      color={hint ? undefined : "findingInk"}
      borderRadius="control"
      px="2"
      py="1"
      mt="1"
      fontSize="row"
      data-testid={hint ? "formula-hint" : "formula-problem"}
    >
      <Text>{problem.sentence}</Text>
      {place && !problem.frames?.length && (
        <Text fontSize="caption">{`Line ${problem.line}, column ${problem.column}`}</Text>
      )}
      {(problem.mends ?? []).map((mend) => (
        <Pill
          key={mend.text}
          height="control"
          px="2"
          mt="1"
          mr="1"
          title={mend.text}
          onPointerDown={(event) => event.preventDefault()}
          onClick={() => put(mend.text)}
        >
          {mend.text.length <= 44 && !mend.text.includes("\n") ? `Write ${mend.text}` : mend.label}
        </Pill>
      ))}
    </Box>
  );
}
