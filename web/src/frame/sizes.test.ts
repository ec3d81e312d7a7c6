import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseSync } from 'vite';
import { expect, test } from 'vitest';

/** No component and no function is longer, and none has more props: what has is two things. */
const MOST_LINES = 150;
const MOST_PROPS = 12;
/** No file is longer; past this ask what second concept moved in. */
const MOST_FILE = 500;

const ROOT = join(import.meta.dirname, '..');
const sources = readdirSync(ROOT, { recursive: true, encoding: 'utf8' }).filter(
  (f) => /\.tsx?$/.test(f) && !/\.test\.|\.d\.ts$/.test(f),
);

interface Node {
  readonly type: string;
  readonly start: number;
  readonly end: number;
  // biome-ignore lint/suspicious/noExplicitAny: a syntax tree is walked by whatever its nodes hold
  readonly [key: string]: any;
}

/** Every node with the name of the nearest thing that has one. */
function* walk(node: unknown, name = ''): Generator<[Node, string]> {
  if (Array.isArray(node)) for (const each of node) yield* walk(each, name);
  if (typeof node !== 'object' || node === null || !('type' in node)) return;
  const here = node as Node;
  const own: string =
    here.id?.name ?? (here.type === 'MethodDefinition' ? here.key?.name : undefined) ?? name;
  yield [here, own];
  for (const [key, child] of Object.entries(here)) if (key !== 'parent') yield* walk(child, own);
}

function functionsOf(file: string) {
  const code = readFileSync(join(ROOT, file), 'utf8');
  const { program, errors } = parseSync(file, code);
  expect(errors, file).toEqual([]);
  const nodes = [...walk(program)];
  const props = new Map<string, number>(
    nodes.flatMap(([n]) =>
      n.type === 'TSInterfaceDeclaration' ? [[n.id.name as string, n.body.body.length as number]] : [],
    ),
  );
  return nodes
    .filter(
      ([n]) => /^(FunctionDeclaration|FunctionExpression|ArrowFunctionExpression)$/.test(n.type) && n.body,
    )
    .map(([n, name]) => {
      const type = n.params[0]?.typeAnnotation?.typeAnnotation;
      return {
        name: `${file}: ${name}`,
        component: /^[A-Z]/.test(name),
        lines: code.slice(n.start, n.end).split('\n').length,
        props: (type?.members?.length as number) ?? props.get(type?.typeName?.name) ?? 0,
      };
    });
}

const functions = sources.flatMap(functionsOf);

test('the house is read: components with their props are found', () => {
  expect(functions.filter((f) => f.component && f.props > 0).length).toBeGreaterThan(60);
});

test(`no component or function is longer than ${MOST_LINES} lines`, () => {
  expect(functions.filter((f) => f.lines > MOST_LINES).map((f) => `${f.name} ${f.lines}`)).toEqual([]);
});

test(`no component has more than ${MOST_PROPS} props`, () => {
  const wide = functions.filter((f) => f.component && f.props > MOST_PROPS);
  expect(wide.map((f) => `${f.name} ${f.props}`)).toEqual([]);
});

test(`no file is longer than ${MOST_FILE} lines`, () => {
  const long = sources.filter((f) => readFileSync(join(ROOT, f), 'utf8').split('\n').length > MOST_FILE);
  expect(long).toEqual([]);
});
