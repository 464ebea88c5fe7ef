import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, need } from "../api/client";
import { NameInput } from "../parts/NameInput";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { Flex } from "../parts/styled";
import { useFacts, useScene } from "../session/useScene";
import { takeExporting, useExporting } from "../state/exporting";
import { sayProblem } from "../state/page";
import { heeded } from "./asked";

/** What the project keeps of formats and choices under names: taken, kept, and kept no longer. */
export function KeptChoices() {
  const { project } = useScene();
  const facts = useFacts();
  const cache = useQueryClient();
  const { kind, choices } = useExporting();
  const [naming, setNaming] = useState<string | null>(null);
  const [taken, setTaken] = useState("");
  const ask = useRef<HTMLButtonElement>(null);
  const named = useRef(false);
  useEffect(() => {
    // Who has named them, or has not, goes on where they were.
    if (naming === null && named.current) ask.current?.focus();
    named.current = naming !== null;
  }, [naming]);
  const path = { project_id: project };
  const key = ["export-choices", project];
  const { data = [] } = useQuery({
    queryKey: key,
    queryFn: () => need(api.GET("/api/projects/{project_id}/export-choices", { params: { path } })),
  });
  const keep = async () => {
    const name = naming?.trim();
    if (!name) return;
    try {
      // Layers are those of one scene; what is kept is for all of them.
      const takes = (facts.formats[kind]?.takes ?? []).filter((one) => one !== "values");
      const given = heeded(choices, takes);
      const answer = await need(
        api.PUT("/api/projects/{project_id}/export-choices", {
          params: { path },
          body: { name, kind, choices: given } as never,
        }),
      );
      cache.setQueryData(key, answer);
      setTaken(name);
      setNaming(null);
    } catch (error) {
      sayProblem(error);
    }
  };
  const drop = async () => {
    try {
      const params = { path: { ...path, name: taken } };
      cache.setQueryData(key, await need(api.DELETE("/api/projects/{project_id}/export-choices/{name}", { params })));
      setTaken("");
    } catch (error) {
      sayProblem(error);
    }
  };
  return (
    <Flex align="center" gap="2">
      {naming === null ? (
        <>
          <Select
            label="Kept choices"
            width="190px"
            value={data.some(({ name }) => name === taken) ? taken : ""}
            options={[
              ["", data.length ? "kept choices…" : "no choices are kept yet"],
              ...data.map(({ name }): [string, string] => [name, name]),
            ]}
            onChange={(name) => {
              setTaken(name);
              const found = data.find((one) => one.name === name);
              if (found) takeExporting(found.kind, toldOnly(found.choices));
            }}
            disabled={!data.length}
            stays
          />
          <Pill ref={ask} onClick={() => setNaming(taken)}>
            Keep these…
          </Pill>
          {taken && <Pill onClick={() => void drop()}>Keep no longer</Pill>}
        </>
      ) : (
        <>
          <NameInput
            label="Name of the choices"
            value={naming}
            change={setNaming}
            take={() => void keep()}
            leave={() => setNaming(null)}
          />
          <Pill look="act" onClick={() => void keep()}>
            Keep
          </Pill>
          <Pill onClick={() => setNaming(null)}>Cancel</Pill>
        </>
      )}
    </Flex>
  );
}

const PLAIN: Record<string, unknown> = {
  quality: 80,
  most: null,
  scale: 1,
  rate: null,
  behind: null,
  premultiplied: false,
  plays: 0,
  sound: true,
  starts: "at once",
  letters: "outlines",
};

/** What is not as it is by default. */
const toldOnly = (choices: object) =>
  Object.fromEntries(
    Object.entries(choices).filter(
      ([name, value]) => value !== PLAIN[name] && !(Array.isArray(value) && !value.length),
    ),
  );
