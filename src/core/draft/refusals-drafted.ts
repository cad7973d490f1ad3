import type { Plain, Section } from './drafted.js';
import { standAt } from './people-found.js';
import type { SeenPage } from './seen-pages.js';
import type { Understood } from './story.js';

/** What people get who are refused: a status, `login`, or where they are sent. */
type Refusal = number | string;
/** Refusals of one kind of page; null for what was not seen. */
interface SeenRefusals {
  readonly guest: Refusal | null;
  readonly role: Refusal | null;
}

const USUAL = { page: { guest: 'login', role: 403 }, api: { guest: 401, role: 403 } } as const;

/** The refusals of a draft: what most pages do, and what single ones do otherwise. */
export class FoundRefusals {
  private readonly own = new Map<string, SeenRefusals>();
  private readonly most: Readonly<Record<'page' | 'api', SeenRefusals>>;

  constructor(
    private readonly understood: Understood,
    pages: readonly SeenPage[],
  ) {
    for (const page of pages) this.own.set(page.pattern, this.refusalsAt(page));
    const mostOf = (kind: 'page' | 'api', who: 'guest' | 'role') =>
      mostFrequent(
        pages.filter((page) => page.kind === kind).map(({ pattern }) => this.own.get(pattern)?.[who] ?? null),
      );
    this.most = {
      page: { guest: mostOf('page', 'guest'), role: mostOf('page', 'role') },
      api: { guest: mostOf('api', 'guest'), role: mostOf('api', 'role') },
    };
  }

  /** What a page does otherwise than most; null for nothing. */
  ofPage({ pattern, kind }: Pick<SeenPage, 'pattern' | 'kind'>): Plain {
    const own = this.own.get(pattern);
    const value: Record<string, Plain> = {};
    for (const who of ['guest', 'role'] as const) {
      const found = own?.[who] ?? null;
      if (found !== null && found !== (this.most[kind][who] ?? USUAL[kind][who])) value[who] = found;
    }
    return Object.keys(value).length === 0 ? null : value;
  }

  /** What most do, where it is not the usual. */
  section(): Section | null {
    const value: Record<string, Plain> = unusual(this.most.page, USUAL.page);
    const api: Record<string, Plain> = unusual(this.most.api, USUAL.api);
    if (this.understood.script !== null) {
      value['unknown'] = 'shell';
      api['unknown'] = 404;
    }
    if (Object.keys(api).length > 0) value['api'] = api;
    return Object.keys(value).length === 0 ? null : { key: 'refusals', value };
  }

  private refusalsAt({ seen }: SeenPage): SeenRefusals {
    const { login, addresses } = this.understood;
    const { guest, admitted } = standAt(seen, 'read');
    const wasLetIn = (who: string, path: string) =>
      seen.some((each) => each.who === who && each.path === path && each.verdict.kind === 'in');
    // Whoever is signed in has no business at a page for guests, whatever their roles.
    const isForGuests = guest === 'in' && admitted.length === 0;
    const of = (isSignedIn: boolean) =>
      seen.flatMap(({ who, verdict, path }): Refusal[] => {
        if ((who !== null) !== isSignedIn || verdict.kind === 'in') return [];
        // What script did not ask for does not tell where it went instead.
        if (verdict.kind === 'out' && verdict.status === null && verdict.to === null) return [];
        // Whoever is let in after another login was asked for more than a role.
        if (who !== null && verdict.kind === 'login' && wasLetIn(who, path)) return [];
        if (path === login?.page || path === login?.path) return [];
        if (verdict.status !== null) return [401, 403, 404].includes(verdict.status) ? [verdict.status] : [];
        return [verdict.kind === 'out' && verdict.to !== null ? addresses.safe(verdict.to) : 'login'];
      });
    return {
      guest: mostFrequent(of(false)),
      role: isForGuests ? null : mostFrequent(of(true).filter((each) => each !== 401)),
    };
  }
}

function unusual(
  found: SeenRefusals,
  usual: { readonly guest: Refusal; readonly role: Refusal },
): Record<string, Plain> {
  return {
    ...(found.guest === null || found.guest === usual.guest ? {} : { guest: found.guest }),
    ...(found.role === null || found.role === usual.role ? {} : { role: found.role }),
  };
}

function mostFrequent(values: readonly (Refusal | null)[]): Refusal | null {
  const counts = new Map<Refusal, number>();
  for (const value of values) if (value !== null) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].sort((one, other) => other[1] - one[1])[0]?.[0] ?? null;
}
