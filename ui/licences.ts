import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

import type { Plugin } from 'vite';

const TEXT = /^(licen[cs]e|copying|ofl)/i;
const OWN = new URL('../LICENSE', import.meta.url);

interface Package {
  folder: string;
  name: string;
  version: string;
  license?: string;
  author?: string | { name: string };
}

/** The package a bundled module belongs to; null for our own. */
function packageOf(module: string): Package | null {
  const path = module.split('?')[0]!.replace(/^\0/, '');
  if (!path.includes('/node_modules/')) return null;
  for (let at = dirname(path); !at.endsWith('/node_modules'); at = dirname(at)) {
    const file = join(at, 'package.json');
    if (!existsSync(file)) continue;
    const read = JSON.parse(readFileSync(file, 'utf-8'));
    if (read.name && read.version) return { ...read, folder: at };
  }
  return null;
}

/** Its text; where a package brings none, what it says of itself. */
function textOf({ folder, name, license, author }: Package): string {
  const file = readdirSync(folder).find((one) => TEXT.test(one));
  if (file) return readFileSync(join(folder, file), 'utf-8').trim();
  if (!license) throw new Error(`${name} is bundled and says nothing of its licence.`);
  const by = typeof author === 'object' ? author.name : author;
  return `Licensed under ${license}${by ? ` by ${by}` : ''}; the package brings no text.`;
}

/** Writes the licence of everything the page is made of, read from what was really bundled. */
export function licences(): Plugin {
  return {
    name: 'haze-licences',
    generateBundle(_, bundle) {
      const found = new Map<string, Package>();
      const chunks = Object.values(bundle).filter((one) => one.type === 'chunk');
      for (const module of chunks.flatMap((one) => one.moduleIds)) {
        const one = packageOf(module);
        if (one) found.set(one.name, one);
      }
      const parts = [...found.values()].sort((a, b) => a.name.localeCompare(b.name));
      const source = [
        `Haze\n\n${readFileSync(OWN, 'utf-8').trim()}`,
        ...parts.map((p) => `${p.name} ${p.version} (${p.license ?? 'see below'})\n\n${textOf(p)}`),
      ].join(`\n\n${'-'.repeat(80)}\n\n`);
      this.emitFile({ type: 'asset', fileName: 'licences.txt', source: `${source}\n` });
    },
  };
}
