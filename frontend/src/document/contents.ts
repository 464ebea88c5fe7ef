import type { Facts, Layer } from "../api/client";

type Content = Layer["content"];
export type ShapeContent = Extract<Content, { kind?: "shape" }>;
type Shown = Content & { asset: string };

/**
 * What the kinds of content are, as the server tells: those of other packages, too. Whoever must know what can be done
 * with a layer asks here, and not for its kind.
 */
let kinds: Facts["contents"] = {};

export const learnContents = (told: Facts["contents"]) => {
  kinds = told;
};

const about = ({ kind }: Content) => kinds[kind!] ?? { shows: true, placed: true, runs: false };

/** Whether it has a source that runs in a time of its own, which may be heard. */
export const runs = (content: Content) => about(content).runs;

/** Whether its source can be seen: a clip's film, or another scene. */
export const hasFilm = (content: Content) => about(content).runs && about(content).shows;

/** Whether it is heard and not seen: it has nothing that is placed or painted. */
export const heardOnly = (content: Content) => !about(content).placed;

/** Whether shapes lie in it. */
export const hasItems = (content: Content): content is ShapeContent => "items" in content;

/** Whether it is words. */
export const hasWords = (content: Content): content is Extract<Content, { kind?: "text" }> => "text" in content;

/** The cascades of a text or of shapes; none of anything else. */
export const cascadesOf = (content: Content) => ("cascades" in content && content.cascades) || [];

/** Whether its units may be moved one after another: letters, several shapes, the copies of one, or layers. */
export const hasUnits = (content: Content) =>
  hasWords(content) ||
  showsScene(content) ||
  (hasItems(content) && (content.items.length > 1 || Boolean(content.items[0].repeat)));

/** The formula that writes a layer's text; an empty one where none does. */
export const writtenBy = ({ content }: Layer): string => (hasWords(content) && content.written?.formula) || "";

/** Whether it shows a picture of the project. */
export const showsPicture = (content: Content): content is Shown & Extract<Content, { kind?: "picture" }> =>
  "asset" in content && !about(content).runs;

/** Whether it shows another scene, into which one can go. */
export const showsScene = (content: Content): content is Shown & Extract<Content, { kind?: "scene" }> =>
  "asset" in content && "background" in content;
