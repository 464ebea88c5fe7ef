import createCache from "@emotion/cache";

const nonce = document.querySelector<HTMLMetaElement>("meta[name=csp-nonce]")?.content;

/** The one sheet of styles that the page writes, by the nonce that its policy asks for. */
export const styles = createCache({ key: "ms", nonce });
