import { readFileSync } from 'node:fs';
import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defaultClientConditions, defineConfig, type Plugin } from 'vite';
import { addresses } from './addresses-plugin.ts';

/**
 * Zod can write its schemas as JSON Schema. The server does, for what it says of its routes; in the browser nobody asks for it, and it would be 18 kB of the
 * first visit.
 */
const noJsonSchemas: Plugin = {
  name: 'no-json-schemas',
  enforce: 'pre',
  load(id) {
    if (!/zod\/v4\/core\/(to-json-schema|json-schema-processors)\.js$/.test(id)) return null;
    const names = readFileSync(id, 'utf8').matchAll(/^export (?:function|const) (\w+)/gm);
    return [
      'const none = () => () => { throw new Error("JSON Schema is written by the server only"); };',
      ...Array.from(names, ([, name]) => `export const ${name} = none;`),
    ].join('\n');
  },
};

/** Zod asks whether it may make code of text. It may not (see the server's policy), and browsers of some makers write every such try down as an error. */
const noEval: Plugin = {
  name: 'no-eval',
  enforce: 'pre',
  transform(code, id) {
    if (!/zod\/v4\/core\/core\.js$/.test(id)) return null;
    const said = code.replace('.__zod_globalConfig = {}', '.__zod_globalConfig = { jitless: true }');
    if (said === code) throw new Error('Zod keeps its settings elsewhere now: see noEval');
    return said;
  },
};

export default defineConfig({
  plugins: [noJsonSchemas, noEval, addresses, react(), tailwind()],
  resolve: { conditions: ['jotmark-source', ...defaultClientConditions] },
  build: {
    target: 'es2023',
    assetsInlineLimit: 0,
    sourcemap: true,
    rolldownOptions: {
      output: {
        // Twenty parts of a kilobyte travel worse than one: what every view is made of is one part, what shows pages another. Not in
        // them is what only some views use and what brings a library along.
        codeSplitting: {
          groups: [
            {
              name: 'frame',
              test: /web\/src\/(api|ask|look|frame|time|live|outbox|conversation)\/(?!fields|Tips|useRowsInSight|DialogShell|OpenMenu|Ask|Address|OpenAddress|drag-words|NowOrLater|Chart|TakeOut|roster-files)/,
            },
            {
              name: 'page',
              test: /web\/src\/((paper|marks|fields|hand)\/(?!MarkList)|pens\/PenTray|rich\/RichShow)|core\/src\/(wording\/said|questions\/question|answers\/answer)|icons\/(undo-2|redo-2|x)\./,
            },
            {
              name: 'scores',
              test: /web\/src\/scores\/(ScoresPart|TallyPart|GradePart|GradeField|PointsField|read-typed|useScored|next-open|ids)|pile-order\/copy-address|core\/src\/(tally|grade\/(?!entered)|alike\/(key|normal)|rubric\/total)|icons\/rows-3\./,
            },
            {
              name: 'rubric',
              test: /web\/src\/scores\/(RubricPart|CriterionRow|DescriptorWords|score-moves|stands-words|steps-words|RoundsRead|GradeRead)/,
            },
          ],
        },
      },
    },
  },
  worker: { format: 'es', plugins: () => [noEval] },
  server: { proxy: { '/api': 'http://127.0.0.1:4270' } },
});
