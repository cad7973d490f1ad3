/** That a person could not do what a step says; the message tells why. */
export class Hindered extends Error {}
