/** Numbers of a sample typed one after the other: kept with Enter, which goes on to the next. */
import { useQuery } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'
import { fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { vocabularyQuery } from '@/api/queries'
import { numberFault } from '@/features/teardown/answers'
import { readNumber } from '@/figures/readNumber'
import { useSheet } from '@/features/teardown/useSheet'

export interface Measure {
  attribute: Schemas['Attribute']
  seen?: Schemas['Observation']
}

/** What is typed and not on record yet, and the version it was begun from; null: there was none. */
interface Draft {
  text: string
  /** As it was typed in another unit. */
  written?: string
  version: number | null
}

export function useMeasures(sample: Ref<number>, keys: Ref<string[]>) {
  const { data: vocabulary } = useQuery(vocabularyQuery())
  const sheet = useSheet(sample)
  const drafts = useLocalStorage<Record<string, Draft>>('spindle.measure-drafts', {})
  const instrument = useLocalStorage('spindle.instrument', 'calliper')
  const faults = ref<Record<string, string>>({})

  const measures = computed<Measure[]>(() =>
    keys.value.flatMap((key) => {
      const attribute = vocabulary.value?.attributes.find((a) => a.key === key)
      return attribute ? [{ attribute, seen: sheet.answers.value.get(key) }] : []
    }),
  )
  const absent = computed(
    () =>
      new Map(
        (sheet.query.data.value?.not_applicable ?? []).map((item) => [item.attribute, item.reason]),
      ),
  )

  const draftKey = (key: string) => `${sample.value}/${key}`
  const own = (seen?: Schemas['Observation']) =>
    seen && (seen.status === 'measured' || seen.status === 'observed') ? seen : undefined
  const storedText = ({ seen }: Measure) => {
    const value = own(seen)?.value
    return value == null ? '' : String(value)
  }
  const storedU = ({ seen }: Measure) => (own(seen)?.u == null ? '' : String(own(seen)?.u))
  const draftOf = (m: Measure, part: '' | '±' = '') =>
    drafts.value[draftKey(m.attribute.key) + part]
  const typed = (m: Measure) => draftOf(m)?.text ?? storedText(m)
  const typedU = (m: Measure) => draftOf(m, '±')?.text ?? storedU(m)
  const changed = (m: Measure) => typed(m) !== storedText(m) || typedU(m) !== storedU(m)

  const written = (m: Measure) =>
    draftOf(m)?.written ?? (draftOf(m) ? '' : (own(m.seen)?.typed ?? ''))

  /** The version that the typing was begun from, and stays so while it goes on. */
  function begunFrom(m: Measure): number | null {
    const begun = draftOf(m) ?? draftOf(m, '±')
    return begun ? begun.version : (m.seen?.version ?? null)
  }

  function type(m: Measure, text: string, part: '' | '±' = '') {
    const key = draftKey(m.attribute.key) + part
    if (text === (part ? storedU(m) : storedText(m))) Reflect.deleteProperty(drafts.value, key)
    else drafts.value[key] = { text, version: begunFrom(m) }
    Reflect.deleteProperty(faults.value, m.attribute.key)
  }

  /** What a number was typed as, in another unit than the line's. */
  function write(m: Measure, text: string) {
    const draft = draftOf(m)
    if (draft) draft.written = text
  }

  // Enter keeps a line, and so does leaving it: the second must not send the first again.
  const onTheWay = new Map<string, Promise<boolean>>()

  /** Keep what was typed; true when it is safe and one may go on. */
  function keep(m: Measure): Promise<boolean> {
    const key = draftKey(m.attribute.key)
    const going = onTheWay.get(key) ?? keepNow(m).finally(() => onTheWay.delete(key))
    onTheWay.set(key, going)
    return going
  }

  async function keepNow(m: Measure): Promise<boolean> {
    const { key, integer } = m.attribute
    Reflect.deleteProperty(faults.value, key)
    if (!changed(m)) return true
    const text = typed(m)
    const emptied = !text.trim()
    const u = typedU(m) ? readNumber(typedU(m)) : null
    const fault = emptied
      ? ''
      : numberFault(m.attribute, text) || (typedU(m) && u === null ? 'The ± is a number too.' : '')
    if (fault) {
      faults.value[key] = fault
      return false
    }
    const from = { attribute: key, version: begunFrom(m) ?? undefined }
    const safe = await sheet.record(
      emptied
        ? { ...from, status: 'not_looked' }
        : {
            ...from,
            status: integer ? 'observed' : 'measured',
            value: readNumber(text),
            u: integer ? null : u,
            instrument: integer ? '' : instrument.value,
            typed: written(m),
          },
    )
    if (safe) {
      Reflect.deleteProperty(drafts.value, draftKey(key))
      Reflect.deleteProperty(drafts.value, `${draftKey(key)}±`)
    } else {
      const failure = sheet.problem.value
      faults.value[key] = fieldMessage(failure, 'value') || sentenceOf(failure)
    }
    return safe
  }

  return {
    measures,
    absent,
    typed,
    typedU,
    written,
    write,
    changed,
    type,
    keep,
    faults,
    instrument,
    sheet,
  }
}
