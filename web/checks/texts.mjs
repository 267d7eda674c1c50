/** Print every text of the page that a person can meet, with its file and line, as JSON lines. */
import { parse } from '@vue/compiler-sfc'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import ts from 'typescript'

/** Attributes of components and elements whose values are read by people. */
const SPOKEN = new Set(['label', 'heading', 'tip', 'title', 'action', 'placeholder', 'aria-label'])
/** Properties of objects whose values are read by people. */
const NAMED = new Set(['label', 'text', 'note', 'why', 'says', 'does', 'heading', 'tip'])

const out = (file, line, text) => {
  const plain = text.replaceAll(/\s+/g, ' ').trim()
  if (/\p{L}{2}/u.test(plain)) console.log(JSON.stringify({ file, line, text: plain }))
}

/** Words in code: of objects by the names of their properties, and sentences wherever they stand. */
function inCode(file, source, first = 1) {
  const tree = ts.createSourceFile(file, source, ts.ScriptTarget.Latest, true)
  const lineOf = (node) => first + tree.getLineAndCharacterOfPosition(node.getStart()).line
  const visit = (node) => {
    if (ts.isStringLiteralLike(node) || ts.isTemplateExpression(node)) {
      const text = node.getText().slice(1, -1)
      const isNamed = ts.isPropertyAssignment(node.parent) && NAMED.has(node.parent.name.getText())
      const isSentence = /^\p{Lu}.* .*[.!?…]$/u.test(text)
      if (isNamed || isSentence) out(file, lineOf(node), text)
    }
    ts.forEachChild(node, visit)
  }
  visit(tree)
}

function inTemplate(file, node) {
  if (node.type === 2) out(file, node.loc.start.line, node.content)
  for (const prop of node.props ?? []) {
    if (prop.type === 6 && SPOKEN.has(prop.name) && prop.value)
      out(file, prop.loc.start.line, prop.value.content)
    if (prop.type === 7 && SPOKEN.has(prop.arg?.content) && /['`]/.test(prop.exp?.content ?? ''))
      inCode(file, `x = ({ label: ${prop.exp.content} })`, prop.loc.start.line)
  }
  for (const child of node.children ?? []) inTemplate(file, child)
}

const files = readdirSync('src', { recursive: true })
  .map((file) => join('src', file))
  .filter((file) => /\.(vue|ts)$/.test(file))

for (const file of files.sort()) {
  if (/\.test\.ts$|schema\.d\.ts|vocabulary\.ts/.test(file)) continue
  const source = readFileSync(file, 'utf8')
  if (file.endsWith('.ts')) {
    inCode(file, source)
    continue
  }
  const { descriptor } = parse(source)
  if (descriptor.template?.ast) inTemplate(file, descriptor.template.ast)
  const script = descriptor.scriptSetup ?? descriptor.script
  if (script) inCode(file, script.content, script.loc.start.line)
}
