/** The form of the messages that this page reads; written by `make types`. */
export const WIRE = "b9c4a43230a2";
