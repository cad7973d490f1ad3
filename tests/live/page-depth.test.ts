import { load } from 'cheerio';
import fc from 'fast-check';
import { cutAtDepth } from '../../src/live/page-depth';

/** Some elements bring others along: a table has five levels. */
const DEEP_AT_MOST = 6_000;

interface Tree {
  readonly children?: readonly Tree[] | undefined;
}

/** How deep the elements of a page lie, by a parser that is known. */
function depthOf(html: string): number {
  let deepest = 0;
  const left: { readonly node: Tree; readonly depth: number }[] = [
    { node: load(html).root()[0] as Tree, depth: 0 },
  ];
  for (let at = left.pop(); at !== undefined; at = left.pop()) {
    const { node, depth } = at;
    deepest = Math.max(deepest, depth);
    left.push(...(node.children ?? []).map((child) => ({ node: child, depth: depth + 1 })));
  }
  return deepest;
}

/** Pages that nest without end. */
const DEEP = [
  '<div>',
  '<form><div>',
  '<b>',
  '<ul><li>',
  '<table><tr><td>',
  '<svg><td>',
  '<svg><g/><g>',
  '<p><button>',
  '<DIV class=a>',
  '<script>"<div>"</script><section>',
  '<x-y>',
  '<!-- > --><a1>',
  '<dl><dd>',
  '<select><option></select><i>',
];

test.each(DEEP)('%s again and again is cut, in time linear in it', (part) => {
  const cut = cutAtDepth(part.repeat(200_000));
  expect(depthOf(cut)).toBeLessThan(DEEP_AT_MOST);
});

test.each(['<', '<a', '<a<', '</', '<!--', '<script>', '<script', '<a b="', '<div', '<style></'])(
  '%j again and again is read in time linear in it',
  (part) => {
    const page = part.repeat(1_000_000);
    expect(page.startsWith(cutAtDepth(page))).toBe(true);
  },
);

/** What pages have thousands of beside each other, without end tags or with them. */
const FLAT = [
  '<p>a',
  '<li>a',
  '<tr><td>a<td>b',
  '<option>a',
  '<br><input><img>',
  '<div></div>',
  '<svg><path/><g></g></svg>',
  '<script>if (a <b) c("<div>")</script>',
  '<!-- <div> -->',
  '<dt>a<dd>b',
  '<title><div></title>',
];

test.each(FLAT)('%s thousands of times stays as it is', (part) => {
  const page = `<table>${part.repeat(5_000)}`;
  expect(cutAtDepth(page)).toBe(page);
});

test('what is cut is a beginning of the page, and whatever stays is not deep', () => {
  const part = fc.constantFrom(
    ...DEEP,
    ...FLAT,
    '</div>',
    '</b>',
    '</svg>',
    '</',
    '<',
    '<!--',
    '-->',
    '<script>',
    '</script>',
  );
  fc.assert(
    fc.property(fc.array(part, { maxLength: 6 }), fc.integer({ min: 1, max: 1_500 }), (parts, times) => {
      const page = parts.join('').repeat(times);
      const cut = cutAtDepth(page);
      expect(page.startsWith(cut)).toBe(true);
      expect(depthOf(cut)).toBeLessThan(DEEP_AT_MOST);
    }),
    { numRuns: 60 },
  );
});
