/** How the app reads the path of a request before it compares it with anything. */
export interface PathRules {
  readonly letterCase: 'same' | 'ignored';
  /** Whether percent-encoded characters are the characters. */
  readonly decodes: boolean;
  readonly trailingSlash: 'same' | 'different' | 'redirected';
  readonly encodedSlash: 'refused' | 'kept';
  readonly emptySegments: 'dropped' | 'kept';
  /** Whether expressions see the path as it is read for pages, or as it was sent. */
  readonly expressions: 'as-routed' | 'as-sent';
}
