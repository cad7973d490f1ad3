/**
 * The only globals beyond the ECMAScript library that the core may use: pure computations of the URL standard
 * (https://url.spec.whatwg.org), which every runtime provides and which read no clock, file or network.
 */
declare class URL {
  constructor(url: string, base?: string);
  readonly href: string;
  readonly origin: string;
  readonly protocol: string;
  readonly username: string;
  readonly password: string;
  readonly host: string;
  readonly hostname: string;
  readonly pathname: string;
  readonly search: string;
  readonly hash: string;
}
