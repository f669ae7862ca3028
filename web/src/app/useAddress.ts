/** What a page's address asks, so that a reload and a link keep it: its words, and changing them. */
import { useRoute, useRouter } from 'vue-router'

type Changes = Record<string, string | undefined>

/** What was said and has not arrived in the address: two at once must not undo one another. */
let onTheWay: Changes = {}
let writes = 0

export function useAddress() {
  const route = useRoute()
  const router = useRouter()
  /** A word of the address; empty where it says nothing of it. */
  const word = (name: string): string => {
    const said = route.query[name]
    return typeof said === 'string' ? said : ''
  }
  /** Asks for something else; what is empty is asked no longer. */
  function ask(changes: Changes) {
    for (const [name, value] of Object.entries(changes)) onTheWay[name] = value || undefined
    const mine = ++writes
    void router.replace({ query: { ...route.query, ...onTheWay } }).finally(() => {
      if (mine === writes) onTheWay = {}
    })
  }
  return { word, ask }
}

/** What is asked as a file's address says it; what is not asked is left out. */
export function fileWords(asked: object): string {
  const said = Object.entries(asked).filter(([, value]) => value != null && value !== '')
  return String(new URLSearchParams(said.map(([name, value]) => [name, String(value)])))
}
