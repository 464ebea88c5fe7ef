import createClient from "openapi-fetch";
import type { components, paths } from "./schema";
import { freshId } from "./token";

type Schemas = components["schemas"];
export type Scene = Schemas["Scene"];
export type Layer = Schemas["Layer"];
export type SceneAnswer = Schemas["SceneAnswer"];
export type ProjectCard = Schemas["ProjectCard"];
export type RemovedItem = Schemas["RemovedAnswer"];
export type SceneCard = Schemas["SceneCard"];
export type Facts = Schemas["Facts"];
export type PropertyFacts = Schemas["PropertyFacts"];
export type ExportAnswer = Schemas["ExportAnswer"];
export type ExportChoices = Partial<Schemas["Choices"]>;
export type FormatFacts = Schemas["FormatFacts"];
export type HistoryAnswer = Schemas["HistoryAnswer"];
export type PictureAnswer = Schemas["PictureAnswer"];
export type Edit = Schemas["EditRequest"]["edits"][number];
export type KeyRef = Schemas["KeyRef"];
export type EaseFacts = Schemas["EaseFacts"];
export type Preset = Schemas["Preset"];
export type Finding = Schemas["FindingAnswer"];
export type RecipeFacts = Schemas["RecipeFacts"];
export type RecipeField = Schemas["RecipeField"];
export type Explanation = Schemas["Explanation"];
export type Unseen = Schemas["UnseenAnswer"];
export type Ease = Schemas["NumberKey"]["ease"];
export type FormulaNames = Schemas["FormulaNames"];
export type NameFacts = Schemas["NameFacts"];
export type ReadyFacts = Schemas["ReadyFacts"];
export type LayerNames = Schemas["LayerNames"];
export type FormulaProblem = Schemas["FormulaProblem"];
export type Track = Schemas["NumberTrack"] | Schemas["PairTrack"] | Schemas["ColourTrack"] | Schemas["AnchorTrack"];

export const api = createClient<paths>({ baseUrl: "" });

/** This window's name, so that it can tell its own revisions from those of other windows. */
export const client = freshId();

/** A problem document as an error whose message is a sentence for the user. */
export class Problem extends Error {
  constructor(
    readonly detail: string,
    readonly where = "",
    readonly mend = "",
    /** What a press may put in the place of what was typed. */
    readonly instead = "",
  ) {
    super([detail, mend].filter(Boolean).join(" "));
  }
}

/** No answer at all: the server is away, or the line to it is cut. */
export class Offline extends Problem {
  constructor() {
    super("The server does not answer.", "", "Is it still running? What was acknowledged before is kept.");
  }
}

/** The session has ended, here or for everybody; what was acknowledged is kept, and what is not waits. */
export class SignedOut extends Offline {
  override message = "The session has ended. Log in in another tab: this page then goes on by itself.";
}

/** An answer that is there, but cannot be read: whether it was done is not known. */
export class Garbled extends Problem {
  constructor() {
    super("The server's answer could not be read.", "", "The scene is loaded again as it is stored.");
  }
}

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The data of an answer, or its problem thrown. */
export async function need<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await asked;
  } catch (error) {
    // Only the network itself fails with a TypeError; what cannot be parsed was answered by somebody.
    throw error instanceof TypeError ? new Offline() : new Garbled();
  }
  if (answer.response.status === 401) throw new SignedOut();
  if (!answer.response.ok) {
    const problem = answer.error as { detail?: string; where?: string; mend?: string; instead?: string } | undefined;
    throw new Problem(
      problem?.detail ??
        (answer.response.status >= 500
          ? `The server had a fault (${answer.response.status}). It is written in its log; nothing was changed.`
          : `The server answered ${answer.response.status}.`),
      problem?.where,
      problem?.mend,
      problem?.instead,
    );
  }
  if (
    answer.data === undefined &&
    answer.response.status !== 204 &&
    answer.response.headers.get("content-length") !== "0"
  )
    throw new Garbled();
  return answer.data as T;
}
