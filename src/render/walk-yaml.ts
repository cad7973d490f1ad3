import { stringify } from 'yaml';
import type { Step } from '../core/index.js';
import { visible } from './json.js';
import { hasUnseen } from './style.js';

/** A walk that is to be written down. */
export interface WrittenWalk {
  readonly name: string;
  readonly steps: readonly Step[];
}

/** Walks as a file that `cavrin walk` plays, a line a step. */
export function walksYaml(walks: readonly WrittenWalk[]): string {
  const lines = walks.flatMap(({ name, steps }) => [
    `  - name: ${flow(name)}`,
    '    steps:',
    ...steps.map((step) => `      - ${flow(stepYaml(step))}`),
  ]);
  return `walks:${lines.length === 0 ? ' []' : ''}\n${lines.map((line) => `${line}\n`).join('')}`;
}

function flow(value: unknown): string {
  const text = stringify(value, {
    collectionStyle: 'flow',
    lineWidth: 0,
    flowCollectionPadding: true,
  }).trimEnd();
  // JSON is YAML, and has a way to write what is not seen.
  return hasUnseen(text) ? visible(JSON.stringify(value)) : text;
}

/** A step as the language writes it. */
function stepYaml({ action, browser, connectsFrom, expectBroken }: Step): Record<string, unknown> {
  return {
    ...actionYaml(action),
    ...(browser === 'browser' ? {} : { in: browser }),
    ...(connectsFrom === null ? {} : { 'connects-from': connectsFrom }),
    ...(expectBroken.length === 0 ? {} : { 'expect-broken': expectBroken }),
  };
}

function actionYaml(action: Step['action']): Record<string, unknown> {
  const from = 'from' in action && action.from !== null ? { from: action.from } : {};
  switch (action.verb) {
    case 'visit':
      return { visit: action.address, ...from };
    case 'send':
      return { send: `${action.method} ${action.address}`, ...from };
    case 'follow':
      return { follow: action.link };
    case 'login': {
      const { account, password, passwordGiven, role, remember } = action;
      const more = {
        ...(passwordGiven ? { password } : {}),
        ...(role === null ? {} : { role }),
        ...(remember ? { remember } : {}),
      };
      return { login: Object.keys(more).length === 0 ? account : { as: account, ...more }, ...from };
    }
    case 'code':
      return { code: action.given };
    case 'sign-up':
      return { 'sign-up': { as: action.account, password: action.password } };
    case 'together':
      return {
        together: action.calls.map(({ method, address, tab }) => {
          const send = `${method} ${address}`;
          return tab === 'behind' ? { send, tab } : send;
        }),
      };
    case 'copy':
      return { copy: { what: action.what, to: action.to } };
    case 'plant':
      return { plant: { what: action.what, in: action.to } };
    case 'confirm':
    case 'suspend':
    case 'delete-account':
      return { [action.verb]: action.account };
    case 'set-roles':
      return { 'set-roles': { as: action.account, roles: action.roles } };
    case 'set-password':
      return { 'set-password': { as: action.account, password: action.password } };
    case 'back':
      return { back: action.pages === 1 ? null : action.pages };
    case 'clear-cookies':
      return { 'clear-cookies': action.name };
    case 'wait':
      return { wait: action.until.kind === 'duration' ? `${action.until.seconds}s` : waitYaml(action.until) };
    case 'logout':
    case 'reload':
    case 'new-tab':
    case 'close-tab':
    case 'close-browser':
    case 'open-browser':
    case 'restart-app':
      return { [action.verb]: null };
  }
}

function waitYaml({ kind, deadline }: { readonly kind: 'past' | 'short-of'; readonly deadline: string }) {
  return { [kind]: deadline };
}
