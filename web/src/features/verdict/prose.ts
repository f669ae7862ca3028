/** The prose of a verdict as its editor holds it: the core's closed schema, nothing else. */
import { Node, type JSONContent, mergeAttributes } from '@tiptap/core'
import Bold from '@tiptap/extension-bold'
import Document from '@tiptap/extension-document'
import Italic from '@tiptap/extension-italic'
import { BulletList, ListItem, ListKeymap } from '@tiptap/extension-list'
import Paragraph from '@tiptap/extension-paragraph'
import Text from '@tiptap/extension-text'
import { Placeholder, UndoRedo } from '@tiptap/extensions'
import { VueNodeViewRenderer } from '@tiptap/vue-3'
import type { InjectionKey, Ref } from 'vue'
import type { Schemas } from '@/api/client'
import QuotedFigure from './QuotedFigure.vue'

export type VerdictFigure = Schemas['VerdictFigure']

/** The figures of the verdict that the prose stands in, by number. */
export const FIGURES: InjectionKey<Ref<ReadonlyMap<number, VerdictFigure>>> = Symbol('figures')

/** A figure by its number; what it says is looked up, so that it cannot be typed over. */
export const FigureNode = Node.create({
  name: 'figure',
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  addAttributes: () => ({
    figure: {
      default: 0,
      parseHTML: (element) => Number(element.getAttribute('data-figure')),
      renderHTML: (attributes) => ({ 'data-figure': String(attributes.figure) }),
    },
  }),
  parseHTML: () => [{ tag: 'span[data-figure]' }],
  renderHTML: ({ HTMLAttributes }) => ['span', mergeAttributes(HTMLAttributes)],
  addNodeView: () => VueNodeViewRenderer(QuotedFigure),
})

/** A paragraph that knows which figures it rests on, those that were deleted from it too. */
export const RestingParagraph = Paragraph.extend({
  addAttributes: () => ({ rests_on: { default: [], rendered: false, keepOnSplit: false } }),
})

export const extensions = (placeholder: string) => [
  Document,
  RestingParagraph,
  Text,
  Bold,
  Italic,
  BulletList,
  ListItem.extend({ content: 'paragraph+' }),
  ListKeymap,
  FigureNode,
  UndoRedo,
  Placeholder.configure({ placeholder }),
]

/** What the editor begins with; a document without a paragraph is none to it. */
export function begin(prose: JSONContent): JSONContent | null {
  return prose.content?.length ? prose : null
}

function walk(node: JSONContent, visit: (node: JSONContent) => void) {
  visit(node)
  for (const child of node.content ?? []) walk(child, visit)
}

/** Numbers of the figures that stand in prose or that its paragraphs rest on, each once. */
export function figuresIn(prose: JSONContent): number[] {
  const found = new Set<number>()
  walk(prose, (node) => {
    if (node.type === 'figure') found.add(Number(node.attrs?.figure))
    if (node.type === 'paragraph')
      for (const one of (node.attrs?.rests_on ?? []) as number[]) found.add(one)
  })
  return [...found]
}

/** Prose as text, a line per paragraph; figures as they are stated. */
export function plainOf(prose: JSONContent, figures: ReadonlyMap<number, VerdictFigure>): string {
  const lines: string[] = []
  walk(prose, (node) => {
    if (node.type !== 'paragraph') return
    const parts = (node.content ?? []).map((child) =>
      child.type === 'figure'
        ? (figures.get(Number(child.attrs?.figure))?.stated ?? '?')
        : (child.text ?? ''),
    )
    lines.push(parts.join(''))
  })
  return lines.join('\n')
}
