import { expect, test } from 'vitest';

/** Parts that come with the styles of another component. */
const WITH: Record<string, string> = {
  'dropdown-item': 'dropdown',
  'dropdown-menu': 'dropdown',
  'table-column': 'table',
  'tour-step': 'tour',
};

const SOURCES = import.meta.glob<string>('../src/**/*.{vue,ts}', {
  query: '?raw',
  import: 'default',
  eager: true,
});

test('the styles shipped are those of the components used, and of no others', () => {
  const used = new Set<string>();
  for (const text of Object.values(SOURCES))
    for (const [, names] of text.matchAll(/import \{([^}]*)\} from 'element-plus'/g))
      for (const name of names!.split(',').map((n) => n.trim().replace(/^type /, '')))
        if (/^El[A-Z]/.test(name)) {
          const kebab = name
            .slice(2)
            .replace(/(?<!^)([A-Z])/g, '-$1')
            .toLowerCase();
          used.add(WITH[kebab] ?? kebab);
        }
  const styled = [
    ...SOURCES['../src/look/components.ts']!.matchAll(/components\/([a-z-]+)\/style/g),
  ].map(([, name]) => name!);
  expect([...styled].sort()).toEqual([...used].sort());
});
