/** The form of the messages that this page reads; written by `make types`. */
export const WIRE = "6d5993539ff0";
