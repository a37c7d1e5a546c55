// Figures of the console's TypeScript, read from the compiler's tree: node bin/lib/facts.mjs CONSOLE
import { readdirSync, readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { join, relative, resolve } from 'node:path'

const console_ = resolve(process.argv[2])
const ts = createRequire(join(resolve(import.meta.dirname, '../../console'), 'package.json'))('typescript')

const files = readdirSync(join(console_, 'src'), { recursive: true, withFileTypes: true })
  .filter((entry) => entry.isFile() && /\.tsx?$/.test(entry.name) && entry.name !== 'schema.d.ts')
  .map((entry) => join(entry.parentPath ?? entry.path, entry.name))

function look(paths) {
  const found = { files: [], functions: [], parameters: [], lines: [], styles: 0 }
  for (const path of paths) {
    const text = readFileSync(path, 'utf8')
    const name = relative(console_, path)
    const source = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true, path.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS)
    const lines = text.split('\n')
    found.files.push({ size: lines.length, where: name })
    for (const line of lines) found.lines.push({ size: line.length, where: name })
    const visit = (node) => {
      if (ts.isFunctionLike(node) && node.body) {
        const line = (at) => source.getLineAndCharacterOfPosition(at).line
        const of = node.name?.getText() ?? node.parent?.name?.getText?.() ?? 'a function'
        found.functions.push({ size: line(node.end) - line(node.getStart()) + 1, where: `${name} ${of}` })
        found.parameters.push({ size: node.parameters.length, where: `${name} ${of}` })
      }
      if (ts.isJsxAttribute(node) && node.name.getText() === 'style') found.styles++
      ts.forEachChild(node, visit)
    }
    visit(source)
  }
  return found
}

function spread(what, sizes, atMost = Number.POSITIVE_INFINITY) {
  const sorted = sizes.toSorted((a, b) => a.size - b.size)
  const at = (percent) => sorted[Math.floor(((sorted.length - 1) * percent) / 100)].size
  const largest = sorted.at(-1)
  row(`${what}: median, p90, p99, largest`, `${at(50)}, ${at(90)}, ${at(99)}, ${largest.size} (${largest.where})`)
  for (const one of sorted.toReversed().filter((one) => one.size > atMost)) console.log(`    over ${atMost}: ${one.size} ${one.where}`)
}

function row(what, figures) {
  console.log(`  ${what.padEnd(46)} ${figures}`)
}

const isTest = (path) => /\.test\.tsx?$/.test(path) || path.includes('/test/')
const main = look(files.filter((path) => !isTest(path)))
const tests = look(files.filter(isTest))
console.log('\nTypeScript, main')
row('files, lines', `${main.files.length}, ${main.lines.length}`)
spread('lines a file', main.files, 500)
spread('lines a function', main.functions, 60)
spread('parameters a function', main.parameters)
row('lines over 100 columns', String(main.lines.filter((line) => line.size > 100).length))
row('inline styles', String(main.styles))
row("tests' share of all lines", `${Math.round((100 * tests.lines.length) / (main.lines.length + tests.lines.length))} %`)
