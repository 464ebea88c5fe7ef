/** The form of the messages that this page reads; written by `make types`. */
export const WIRE = "09f73bdc5b53";
