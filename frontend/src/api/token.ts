/** A fresh name of 12 characters for a layer or a request; `crypto.randomUUID` exists only in secure contexts. */
export const freshId = () =>
  [...crypto.getRandomValues(new Uint8Array(6))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
