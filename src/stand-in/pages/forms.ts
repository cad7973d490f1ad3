import {
  parameterOf,
  pathOf,
  withParameter,
  type Account,
  type FormName,
  type Login,
} from '../../core/internal.js';
import { html, type Html } from '../../render/html.js';
import { sentCode } from '../requests.js';
import type { View } from './view.js';

/** The form of a login, a sign-up, a one-time code, a password or a link, on the page that has it; null on any other. */
export function formOf(view: View, again: FormName | null): Html | null {
  const { forms } = view.site.stage.client;
  if (view.decided.route?.task === 'reset') return resetForm(view);
  const path = again === null ? view.decided.route?.spelled : forms[again]?.page;
  const { logins } = view.site.policy;
  const login = logins.find(({ form }) => (again === null ? forms[form]?.page === path : form === again));
  if (login !== undefined) return loginForm(view, login);
  if (path === forms.code?.page) return codeForm(view);
  if (path === forms['sign-up']?.page) return signUpForm(view);
  if (path === forms['change-password']?.page) return changeForm(view);
  if (path === forms['ask-reset']?.page) return linkForm(view, 'ask-reset', 'Forgotten password');
  return path === forms['ask-link']?.page ? linkForm(view, 'ask-link', 'Log in by a link') : null;
}

/** The address asked for first goes along in a hidden field. */
function hiddenReturn({ site, request }: View): Html | null {
  const param = site.policy.login?.return?.param;
  const asked = param === undefined ? null : (request.form.get(param) ?? parameterOf(request.query, param));
  return param === undefined || asked === null
    ? null
    : html`<input type="hidden" name="${param}" value="${asked}" />`;
}

/** What shows that a form is the app's own. */
export function hiddenToken({ site, decided, wire }: View): Html | null {
  const { csrfField } = site.stage.client;
  const { body } = decided.response;
  return csrfField === null || body.kind !== 'page' || body.token === null
    ? null
    : html`<input type="hidden" name="${csrfField}" value="${wire.seals.seal(body.token)}" data-own />`;
}

function loginForm(view: View, login: Login): Html {
  const { remember } = view.site.policy;
  const accounts = [...view.site.state.accounts.values()].filter(({ key }) => !key);
  const roles = login.asRole ? [...new Set(accounts.flatMap(({ given }) => given))] : [];
  return html`<form
    class="card"
    method="${login.submit.method}"
    action="${pathOf(login.submit.path)}"
    data-form="${login.form}"
  >
    <h2>Log in${login.name === null ? null : html` at ${login.name}`}</h2>
    ${hiddenReturn(view)} ${hiddenToken(view)} ${accountFields('current-password', login.fields)}
    ${
      roles.length === 0
        ? null
        : html`<p>
            <label for="role">Log in as</label
            ><select id="role" name="role">
              <option value="">first role</option>
              ${roles.map((role) => html`<option>${role}</option>`)}
            </select>
          </p>`
    }
    ${remember === null ? null : html`<p class="check"><input type="checkbox" id="remember" name="remember" value="yes" /><label for="remember">Know me again next time</label></p>`}
    <p><button>Log in</button></p>
    ${providerLinks(view, login)}
    <fieldset>
      <legend>Or pick one of the made-up accounts</legend>
      <ul class="accounts">
        ${accounts.map((account) => html`<li>${pickButton(account)}</li>`)}
      </ul>
    </fieldset>
  </form>`;
}

/** The ways to the identity providers, on the first login's page. */
function providerLinks({ site: { policy }, request }: View, login: Login): Html[] {
  if (login !== policy.login) return [];
  const param = login.return?.param;
  const asked = param === undefined ? null : parameterOf(request.query, param);
  return policy.providers.map(({ name: provider, start }) => {
    const to = param === undefined || asked === null ? start.path : withParameter(start.path, param, asked);
    return html`<p><a href="${to}" data-provider="${provider}">Log in with ${provider}</a></p>`;
  });
}

const OWN_FIELDS: Login['fields'] = { account: 'account', password: 'password' };

function accountFields(password: string, fields: Login['fields']): Html {
  return html`<p>
      <label for="account">Account</label>
      <input id="account" name="${fields.account}" autocomplete="username" />
    </p>
    <p>
      <label for="password">Password</label>
      <input id="password" name="${fields.password}" type="password" autocomplete="${password}" />
    </p>`;
}

function pickButton({ name, given, state, secondFactor }: Account): Html {
  const notes = [
    given.join(', ') || 'no role',
    ...(state === 'active' ? [] : [state]),
    ...(secondFactor ? ['asks for a code'] : []),
  ];
  return html`<button name="as" value="${name}" class="pick">
    <strong>${name}</strong> <small>${notes.join(' · ')}</small>
  </button>`;
}

function codeForm(view: View): Html | null {
  const { secondFactor } = view.site.policy;
  if (secondFactor === null) return null;
  const code = sentCode(view.request.cookie, view.site, view.wire);
  const sent =
    code === null
      ? html`No code was sent to you: it is sent where a login or a page asks for one.`
      : html`The code that was sent to you is <output id="sent-code">${code}</output>. A real app would send
          it by message.`;
  return html`<form
    class="card"
    method="${secondFactor.submit.method}"
    action="${pathOf(secondFactor.submit.path)}"
    data-form="code"
  >
    <h2>One-time code</h2>
    ${hiddenReturn(view)} ${hiddenToken(view)}
    <p>${sent}</p>
    <p>
      <label for="code">Code</label
      ><input id="code" name="code" inputmode="numeric" autocomplete="one-time-code" />
    </p>
    <p><button>Go on</button></p>
  </form>`;
}

function signUpForm(view: View): Html | null {
  const { signUp } = view.site.policy;
  if (signUp === null) return null;
  return html`<form
    class="card"
    method="${signUp.submit.method}"
    action="${pathOf(signUp.submit.path)}"
    data-form="sign-up"
  >
    <h2>Sign up</h2>
    ${hiddenReturn(view)} ${hiddenToken(view)} ${accountFields('new-password', OWN_FIELDS)}
    <p><button>Sign up</button></p>
  </form>`;
}

function changeForm(view: View): Html | null {
  const change = view.site.policy.password?.change;
  if (!change) return null;
  return html`<form
    class="card"
    method="${change.submit.method}"
    action="${pathOf(change.submit.path)}"
    data-form="change-password"
  >
    <h2>Change password</h2>
    ${hiddenToken(view)}
    ${change.asksOld ? passwordField('old-password', 'Old password', 'current-password') : null}
    ${passwordField('password', 'New password', 'new-password')}
    <p><button>Change password</button></p>
  </form>`;
}

/** The form at a link for a new password, which is sent to the link itself. */
function resetForm(view: View): Html | null {
  return html`<form class="card" method="POST" action="" data-form="reset">
    <h2>New password</h2>
    ${hiddenToken(view)} ${passwordField('password', 'New password', 'new-password')}
    <p><button>Set password</button></p>
  </form>`;
}

function passwordField(name: string, label: string, completes: string): Html {
  return html`<p>
    <label for="${name}">${label}</label>
    <input id="${name}" name="${name}" type="password" autocomplete="${completes}" />
  </p>`;
}

/** The form that has a link sent. */
function linkForm(view: View, name: 'ask-reset' | 'ask-link', title: string): Html | null {
  const submit = view.site.stage.client.forms[name]?.submit;
  if (submit === undefined) return null;
  return html`<form
    class="card"
    method="${submit.method}"
    action="${pathOf(submit.path)}"
    data-form="${name}"
  >
    <h2>${title}</h2>
    ${hiddenToken(view)}
    <p>
      <label for="account">Account</label>
      <input id="account" name="account" autocomplete="username" />
    </p>
    <p><button>Send the link</button></p>
    <p>A real app would send it by message. Here it is shown at <a href="/-/">/-/</a>.</p>
  </form>`;
}
