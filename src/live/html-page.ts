import { load, type Cheerio, type CheerioAPI } from 'cheerio';

type Found = ReturnType<CheerioAPI>;

/** A form as it stands on a page. */
export interface PageForm {
  readonly method: string;
  /** As the page writes it; empty: the page's own address. */
  readonly action: string;
  readonly sends: string;
  /** What it would send as it stands, without a button, in order. */
  readonly fields: readonly (readonly [name: string, value: string])[];
  readonly inputs: readonly FormInput[];
  /** What its first button says of itself when it is pressed; null where it says nothing. */
  readonly button: readonly [name: string, value: string] | null;
}

/** A control of a form that somebody can fill in. */
export interface FormInput {
  readonly name: string;
  readonly type: string;
  readonly value: string;
}

/** A page of HTML as it came, looked at without script. */
export class HtmlPage {
  private readonly $: CheerioAPI;

  constructor(html: string) {
    this.$ = load(html);
  }

  /** The form that a selector finds, itself or inside; null for none. */
  form(selector: string): PageForm | null {
    const found = this.$(selector).first();
    if (found.length === 0) return null;
    const form = found.is('form') ? found : found.closest('form').add(found.find('form').first()).first();
    return form.length === 0 ? null : this.read(form);
  }

  forms(): PageForm[] {
    return this.$('form')
      .toArray()
      .map((form) => this.read(this.$(form)));
  }

  /** The addresses of all links in a part of the page; null where the page has no such part. */
  linksIn(selector: string | null): string[] | null {
    const part = selector === null ? null : this.$(selector);
    if (part?.length === 0) return null;
    const links = part === null ? this.$('a[href]') : part.find('a[href]').addBack('a[href]');
    return links.toArray().map((link) => this.$(link).attr('href') ?? '');
  }

  /** The address of the link that a selector finds; null for none. */
  link(selector: string): string | null {
    const found = this.$(selector).first();
    const link = found.is('a') ? found : found.find('a[href]').first();
    return link.attr('href') ?? null;
  }

  has(selector: string): boolean {
    return this.$(selector).length > 0;
  }

  /** The text of what a selector finds first, or an attribute of it; null where it finds nothing. */
  text(selector: string, attribute: string | null = null): string | null {
    const found = this.$(selector).first();
    if (found.length === 0) return null;
    return attribute === null ? wordsOf(found.text()) : (found.attr(attribute) ?? null);
  }

  /** Whether some element that a selector finds has a text in it. */
  shows(selector: string, text: string | null): boolean {
    const found = this.$(selector);
    if (text === null) return found.length > 0;
    return found.toArray().some((each) => wordsOf(this.$(each).text()).includes(text));
  }

  /** Whether a button, a link, a heading or the like has just this text. */
  names(text: string): boolean {
    return this.$(NAMING)
      .toArray()
      .some((each) => {
        const element = this.$(each);
        if (element.closest('[hidden]').length > 0) return false;
        return wordsOf(element.text()) === text || wordsOf(element.attr('value') ?? '') === text;
      });
  }

  /** The value of what carries a form's token: a hidden field of a name, or a meta element. */
  tokenIn(field: string): string | null {
    const input = this.$('input')
      .filter((_, each) => this.$(each).attr('name') === field)
      .first();
    return input.attr('value') ?? this.$('meta[name="csrf-token"]').attr('content') ?? null;
  }

  private read(form: Cheerio<Found[number]>): PageForm {
    const id = form.attr('id');
    const outside =
      id === undefined
        ? form
        : form.add(this.$('[form]').filter((_, each) => this.$(each).attr('form') === id));
    const controls = form
      .find('input, select, textarea')
      .add(outside.filter('input, select, textarea'))
      .not('[disabled]');
    const inputs = controls.toArray().map((each): FormInput & { readonly isOn: boolean } => {
      const control = this.$(each);
      const type = control.is('input')
        ? (control.attr('type') ?? 'text').toLowerCase()
        : control.is('select')
          ? 'select'
          : 'textarea';
      const value =
        type === 'select'
          ? selectedIn(this.$, control)
          : type === 'textarea'
            ? control.text()
            : control.attr('value');
      const isBox = type === 'checkbox' || type === 'radio';
      return {
        name: control.attr('name') ?? '',
        type,
        value: value ?? (isBox ? 'on' : ''),
        isOn: !isBox || control.attr('checked') !== undefined,
      };
    });
    const isSent = ({ type, name }: FormInput) =>
      name !== '' && !['submit', 'image', 'button', 'reset', 'file'].includes(type);
    const button = form.find('button[type=submit], button:not([type]), input[type=submit]').first();
    const name = button.attr('name');
    return {
      method: (form.attr('method') ?? 'get').toUpperCase(),
      action: form.attr('action') ?? '',
      sends: form.attr('enctype') ?? 'application/x-www-form-urlencoded',
      fields: inputs
        .filter((input) => isSent(input) && input.isOn)
        .map(({ name, value }) => [name, value] as const),
      inputs: inputs.filter(({ name }) => name !== ''),
      button: name === undefined || name === '' ? null : [name, button.attr('value') ?? ''],
    };
  }
}

function selectedIn($: CheerioAPI, select: Cheerio<Found[number]>): string {
  const options = select.find('option');
  const chosen = options.filter('[selected]').first();
  const option = chosen.length > 0 ? chosen : options.first();
  return option.attr('value') ?? $(option).text();
}

/** A text as a reader sees it: without the white space around and between. */
function wordsOf(text: string): string {
  return text.replace(/\s+/g, ' ').trim();
}

/** What names a part of a page for people. */
export const NAMING =
  'button, a, summary, legend, label, h1, h2, h3, h4, h5, h6, [type=submit], [type=button]';
