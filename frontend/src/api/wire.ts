/** The form of the messages that this page reads; written by `make types`. */
export const WIRE = "833174026496";
