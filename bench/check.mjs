// The check of a large workspace against a process that only reads and parses the same files: cold,
// with nothing changed, its memory, and how it grows with the locales.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { makeApi, makeSchemas } from './api-workspace.mjs';
import { makeLarge } from './large-workspace.mjs';
import { makeTeams } from './team-workspace.mjs';
import { atMost, compare, processTime } from './pairs.mjs';

const yaml = fileURLToPath(import.meta.resolve('js-yaml'));
/** Reads and parses all files of a workspace; comments are taken out of JSON as simply as can be. */
const PARSE = `const fs=require('fs'),path=require('path');let yaml;const parsed=(file)=>{const text=fs.readFileSync(file,'utf8');if(file.endsWith('.yaml'))return(yaml??=require(${JSON.stringify(yaml)})).load(text);return JSON.parse(text.startsWith('//')?text.slice(text.indexOf('\\n')):text)};const walk=(folder)=>{for(const entry of fs.readdirSync(folder,{withFileTypes:true})){const file=path.join(folder,entry.name);if(entry.isDirectory())walk(file);else parsed(file)}};['messages','texts','rules','api','schemas'].filter((one)=>fs.existsSync(one)).forEach(walk);`;

/**
 * How teams keep their texts, and at most how many times as long as reading and parsing a check may
 * take.
 */
const LAYOUTS = [
  ['one large file a locale, written alike', {}, 5],
  ['25 files a locale, written alike', { files: 25 }, 5],
  ['25 files a locale, lived in: other orders, notes, tabs', { files: 25, lived: true }, 9],
  [
    'the same, a quarter of the texts plurals and selects',
    { files: 25, lived: true, structured: 0.25 },
    9,
  ],
  ['the same, plain, with many findings', { files: 25, lived: true, findings: 20_000 }, 9],
];

/** The same for workspaces of several teams. */
const TEAMS = [
  ['all plain', {}, 5],
  ['half of the messages plurals in all categories', { plurals: 0.8 }, 8],
  ['the same, lived in', { plurals: 0.8, lived: true }, 9],
];

/** Prints the most memory that a process had; nothing where the machine has no GNU time. */
function printPeak(args, cwd) {
  if (!existsSync('/usr/bin/time')) return;
  const { stderr } = spawnSync('/usr/bin/time', ['-f', '%M', process.execPath, ...args], {
    ...{ cwd, encoding: 'utf8', stdio: ['ignore', 'ignore', 'pipe'] },
  });
  const megabytes = Number(stderr.trim().split('\n').at(-1)) / 1024;
  console.log(`  ${megabytes.toFixed(0)} MB at most (at most 400)`);
}

/** @param program the file of the program */
export function checkBench(program) {
  const folder = mkdtempSync(path.join(tmpdir(), 'zeitwort-bench-'));
  const cold = [program, 'check', '--no-cache', '--fail-on', 'never'];
  try {
    for (const [at, [name, options, limit]] of LAYOUTS.entries()) {
      const here = path.join(folder, String(at));
      const size = (makeLarge(here, options) / 1e6).toFixed(1);
      const parse = ['read and parse the same files', processTime(['-e', PARSE], here)];
      compare(
        `check of 40 × 5,000 texts, ${size} MB: ${name}`,
        'ms',
        5,
        ['zeitwort check', processTime(cold, here)],
        parse,
        atMost(limit),
      );
      printPeak(cold, here);
      if (at !== 2) continue;
      const kept = [program, 'check', '--fail-on', 'never'];
      compare(
        'the same, nothing changed',
        'ms',
        7,
        ['zeitwort check', processTime(kept, here)],
        parse,
        atMost(2),
      );
    }
    for (const [name, options, limit] of TEAMS) {
      const here = path.join(folder, name);
      makeTeams(here, options);
      const parse = ['read and parse the same files', processTime(['-e', PARSE], here)];
      const again = [program, 'check', '--fail-on', 'never'];
      for (const [how, args, most] of [
        ['cold', cold, limit],
        ['nothing changed', again, 2],
      ])
        compare(
          `check of 40 locales × 25 forms × 50 fields, ${name}: ${how}`,
          'ms',
          5,
          ['zeitwort check', processTime(args, here)],
          parse,
          atMost(most),
        );
      printPeak(cold, here);
    }
    const crowded = path.join(folder, 'many findings');
    makeTeams(crowded, { findings: 180_000 });
    console.log('180,000 findings as JSON');
    printPeak([...cold, '--format', 'json'], crowded);
    for (const [name, make] of [
      ['300 operations of one OpenAPI document', (here) => makeApi(here, 300)],
      ['150 operations of a YAML document of 1 MB', (here) => makeApi(here, 150, { yaml: true })],
      ['200 JSON Schemas', (here) => makeSchemas(here, 200)],
    ]) {
      const here = path.join(folder, name);
      make(here);
      const parse = ['read and parse the same files', processTime(['-e', PARSE], here)];
      const told = ({ ratio }) =>
        `ratio ${ratio.toFixed(1)} (no bound: nearly all is rules, which are compiled)`;
      compare(
        `check of ${name}, 5 locales`,
        'ms',
        3,
        ['zeitwort check', processTime(cold, here)],
        parse,
        told,
      );
    }
    const at = (locales) => path.join(folder, `of-${locales}`);
    for (const locales of [5, 80]) makeLarge(at(locales), { locales, files: 25, lived: true });
    const [few, many] = [5, 80].map((locales) =>
      Math.min(...Array.from({ length: 3 }, processTime(cold, at(locales)))),
    );
    console.log(
      `check, from 5 to 80 locales\n  ${(few / 5).toFixed(0)} and ${(many / 80).toFixed(0)} ms a locale`,
    );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
