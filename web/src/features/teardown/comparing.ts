/** Teardowns side by side: which samples, which rows, and what the differences suggest. */
import type { Schemas } from '@/api/client'

type Row = Schemas['InsideRow']
type Argument = Schemas['Argument']

/** Sample numbers of the address, each once, at most four. */
export function chosenSamples(text: string): number[] {
  const numbers = text
    .split(',')
    .filter((part) => /^\d+$/.test(part.trim()))
    .map(Number)
  return [...new Set(numbers)].filter((id) => id > 0).slice(0, 4)
}

/** The rows to show: the differences alone, or all of them by step. */
export function shownRows(rows: Row[], everything: boolean): Row[] {
  return everything ? rows : rows.filter((row) => row.outcome === 'different')
}

export const OUTCOMES: Record<Row['outcome'], string> = {
  same: 'the same',
  different: 'different',
  unresolved: 'not told apart',
  unknown: 'not both looked at',
}

export interface Topic {
  topic: string
  said: Argument[]
}

/** Arguments by topic, and each counterpoint once. */
export function argumentsByTopic(said: Argument[]): Topic[] & { counterpoints: string[] } {
  const topics: Topic[] = []
  for (const item of said) {
    const topic = topics.find((one) => one.topic === item.topic)
    if (topic) topic.said.push(item)
    else topics.push({ topic: item.topic, said: [item] })
  }
  const counterpoints = [...new Set(said.map((item) => item.counterpoint).filter(Boolean))]
  return Object.assign(topics, { counterpoints })
}
