/** What holds of a kind of step, as far as others ask. Each kind names those that hold of it. */
export type Trait =
  /** Asks for the page before as the browser kept it, so that nothing need be asked of the app. */
  | 'shows-kept'
  /** Goes somewhere else: whoever was sent to a login does not ask for their page any more. */
  | 'goes-elsewhere'
  /** Turns from the form in front without going anywhere. */
  | 'turns-away'
  /** Fills in a form on the way in, which may know of the page that was asked for. */
  | 'way-in'
  /** Logs in, or leads there, by a link that was sent, which knows of no page that was asked for. */
  | 'by-link'
  /** Needs what was sent last to an account: a code or a link. */
  | 'needs-message'
  /** Changes accounts, or has something sent, so that walks that are played at once meet each other. */
  | 'disturbs'
  /** Depends on the page in front. */
  | 'on-page'
  /** Neither ends nor begins a login by itself. */
  | 'no-login'
  /** One of the steps by which somebody gets to a page, as promises count them. */
  | 'on-the-way'
  /** Ends what dies with the browser. */
  | 'closes-browser'
  /** Brings another tab to the front without asking for its page. */
  | 'changes-tab'
  /** Has a link sent by which whoever opens it is signed in. */
  | 'asks-sign-in-link'
  /** Starts the app again. */
  | 'restarts-app'
  /** Gives a machine another key. */
  | 'makes-key';
