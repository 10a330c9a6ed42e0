/** The catalogue's words: buttons say what they do, standard terms, nothing too long, nothing unused. */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'

import { NodeTypes, type TemplateChildNode } from '@vue/compiler-core'
import { parse } from '@vue/compiler-sfc'
import { describe, expect, it } from 'vitest'

import en from '@/texts/en'

import { ALLOWED, BANNED, VERBS } from './words'

const SOURCE = join(process.cwd(), 'src')
const LONGEST = { button: 28, label: 40, sentence: 160 }

const files = readdirSync(SOURCE, { recursive: true, encoding: 'utf8' })
  .filter((name) => /\.(vue|ts)$/.test(name) && !name.includes('texts/en') && !name.endsWith('schema.d.ts'))
  .map((name) => ({ name, text: readFileSync(join(SOURCE, name), 'utf8') }))

function flat(part: object, path = ''): [string, string][] {
  return Object.entries(part).flatMap(([key, value]) => {
    const at = path ? `${path}.${key}` : key
    return typeof value === 'string' ? [[at, value] as [string, string]] : flat(value as object, at)
  })
}
const texts = new Map(flat(en))
const plurals = (text: string) => text.split(' | ').map((one) => one.trim())

/** Keys in a piece of code, as patterns: a part that is put together at run time stands for any. */
function keysIn(code: string): RegExp[] {
  const plain = [...code.matchAll(/['"]([a-z]\w*(?:\.[\w-]+)+)['"]/g)].map((found) => found[1]!)
  const made = [...code.matchAll(/`([a-z]\w*\.(?:\$\{[^}]*\}|[^`\s$])*)`/g)].map((found) => found[1]!)
  return [...plain, ...made].map((key) => {
    const parts = key.split(/\$\{[^}]*\}/)
    return new RegExp(`^${parts.map((part) => part.replaceAll('.', '\\.')).join('[\\w -]+')}$`)
  })
}
const matching = (patterns: RegExp[]) =>
  [...texts.keys()].filter((key) => patterns.some((one) => one.test(key)))
/** Of which it can be said what they are: `ask.${key}` may be anything. */
const sure = (patterns: RegExp[]) => patterns.filter((one) => !/^\^\w+\\\.\[/.test(one.source))

/** Keys that stand on buttons, and as labels of fields, in a component's template. */
function keysByUse(source: string) {
  const found = { button: [] as RegExp[], label: [] as RegExp[] }
  const visit = (node: TemplateChildNode, inButton: boolean) => {
    if (node.type === NodeTypes.INTERPOLATION) {
      if (inButton && 'content' in node.content) found.button.push(...keysIn(String(node.content.content)))
      return
    }
    if (node.type !== NodeTypes.ELEMENT) return
    const button = inButton || node.tag === 'button' || node.tag === 'v-btn'
    for (const prop of node.props) {
      if (prop.type !== NodeTypes.DIRECTIVE || !prop.exp || prop.arg?.loc.source === undefined) continue
      if (prop.arg.loc.source === 'label' && node.tag.startsWith('v-'))
        found.label.push(...keysIn(prop.exp.loc.source))
      if (prop.arg.loc.source === 'act') found.button.push(...keysIn(prop.exp.loc.source))
    }
    for (const child of node.children) visit(child, button)
  }
  for (const node of parse(source).descriptor.template?.ast?.children ?? []) visit(node, false)
  return { button: matching(sure(found.button)), label: matching(sure(found.label)) }
}
const used = files.filter((one) => one.name.endsWith('.vue')).map((one) => keysByUse(one.text))
const buttons = [...new Set(used.flatMap((one) => one.button))]
const labels = [...new Set(used.flatMap((one) => one.label))]

const firstWord = (text: string) => text.split(/[\s{:]/)[0]!.toLowerCase()
function tooLong(key: string, text: string) {
  const kind = buttons.includes(key) ? 'button' : labels.includes(key) ? 'label' : 'sentence'
  const bare = text.replace(/\{\w+\}/g, 'xxx')
  const parts = kind === 'sentence' ? bare.split(/(?<=[.?!])\s/) : [bare]
  return parts.some((part) => part.length > LONGEST[kind])
}
const each = [...texts].flatMap(([key, text]) => plurals(text).map((one) => [key, one] as const))
/** What breaks a rule, exceptions included. */
const broken = {
  buttons: each.filter(([key, text]) => buttons.includes(key) && !VERBS.includes(firstWord(text))),
  words: each.filter(([, text]) => BANNED.some(({ not }) => new RegExp(`\\b(?:${not})\\b`, 'i').test(text))),
  lengths: each.filter(([key, text]) => tooLong(key, text)),
}
type Rule = keyof typeof broken

describe('the text catalogue', () => {
  it('finds the buttons and labels that it judges', () => {
    expect(buttons).toEqual(
      expect.arrayContaining(['signIn.act', 'plan.again', 'layout.keep', 'walk.keepIt']),
    )
    expect(labels).toEqual(expect.arrayContaining(['signIn.email', 'ask.margin', 'plan.machine.drill']))
    expect(buttons.length + labels.length).toBeGreaterThan(150)
  })
  it('has no text that nobody uses', () => {
    // what is put together may have several parts, and a list of texts is named as a whole
    const all = keysIn(files.map((one) => one.text).join('\n')).map(
      (one) => new RegExp(one.source.replaceAll('[\\w -]+', '[\\w. -]+').replace(/\$$/, '(\\.\\d+)?$')),
    )
    expect([...texts.keys()].filter((key) => !all.some((one) => one.test(key)))).toEqual([])
  })
  it.each<[string, Rule]>([
    ['starts every button with a verb', 'buttons'],
    ['says the standard term', 'words'],
    ['keeps buttons, labels and sentences short', 'lengths'],
  ])('%s', (_, rule) => {
    const excused = Object.keys(ALLOWED[rule])
    expect(broken[rule].filter(([key]) => !excused.some((one) => key.startsWith(one)))).toEqual([])
  })
  it('has no exception that is no longer needed', () => {
    for (const rule of Object.keys(broken) as Rule[]) {
      const idle = Object.keys(ALLOWED[rule]).filter(
        (one) => !broken[rule].some(([key]) => key.startsWith(one)),
      )
      expect(idle).toEqual([])
    }
  })
})
