/** The draft of a sheet, what the core says of it as it stands, and keeping it as runs. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced, useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { api, dataOf, type Schemas } from '@/api/client'
import { standQuery, standsQuery } from '@/api/rigQueries'
import { useWrite } from '@/api/useWrite'
import { numberFault, numberOrNull } from '@/figures/readNumber'
import { noticedKept } from './noticed'
import { cellFault, cellsOf, EVERY_COLUMN, isEmpty, readColumns, shownColumns } from './sheet'
import { asDraft, type BlockDraft, goOn, newBlock, newSheet } from './sheetDraft'

export function useSheetDraft(sample: number | null) {
  const draft = useLocalStorage('spindle.readings', newSheet(), {
    serializer: { read: (text) => asDraft(JSON.parse(text)), write: JSON.stringify },
  })
  const [first] = draft.value.blocks
  if (sample && first && !first.sample) first.sample = sample
  const { data: stands } = useQuery(standsQuery())
  const { data: stand } = useQuery(computed(() => standQuery(draft.value.stand || null)))
  const instruments = computed(() => {
    return stand.value?.instruments.map((row) => row.channel) ?? []
  })
  const columns = computed(() => shownColumns(draft.value.columns, instruments.value))
  const blockOf = (block: BlockDraft) => ({
    rows: block.rows.map((row) => cellsOf(row, draft.value.units)),
    maxima: block.kind === 'maxima',
    averaged: block.averaged,
    sample: block.sample,
    propeller: block.propeller,
    supply: block.supply || null,
  })
  /** What is read in each row, going by the rows of blocks of the same kind. */
  const wantedOf = (block: BlockDraft) =>
    readColumns(draft.value.blocks.filter((one) => one.kind === block.kind)).filter(
      // Held volts and amps make the watts.
      (key) => key !== 'power_w' || block.kind === 'maxima',
    ) as Schemas['LookedAtBlockRequest']['wanted']
  const body = computed(() => {
    return {
      blocks: draft.value.blocks.map((block) => ({ ...blockOf(block), wanted: wantedOf(block) })),
      day: draft.value.day,
      stand: draft.value.stand || null,
    }
  })
  const asked = refDebounced(body, 300)
  const look = useQuery(
    computed(() => ({
      queryKey: ['readings-look', asked.value],
      queryFn: async () => dataOf(await api.POST('/api/v1/readings/look/', { body: asked.value })),
      retry: false,
      placeholderData: (before: Schemas['BlockLook'][] | undefined) => before,
    })),
  )
  /** Looked at as it stands now; what the server has not seen is unchecked, and never fine. */
  const checked = computed(
    () =>
      !look.isError.value &&
      !look.isPlaceholderData.value &&
      JSON.stringify(asked.value) === JSON.stringify(body.value),
  )
  const looksOf = (at: number) => look.data.value?.[at]?.rows ?? []
  const finds = (at: number, is: (found: Schemas['CellFinding']) => boolean) =>
    looksOf(at).some((row) => row.findings.some(is))
  const overruns = (at: number) => finds(at, (one) => one.code === 'overrun')
  const impossible = computed(() =>
    draft.value.blocks.some((_, at) => finds(at, (one) => one.impossible)),
  )
  const missingOf = (block: BlockDraft, at: number) => [
    block.sample ? '' : 'choose the motor and its sample',
    block.propeller ? '' : 'choose the propeller',
    block.rows.some((row) => !isEmpty(row) && row.throttle_pct?.trim() !== '0')
      ? ''
      : 'type a reading under throttle',
    block.rows.some((row) => EVERY_COLUMN.some((column) => cellFault(row, column)))
      ? 'a cell does not say what it should'
      : '',
    numberFault(block.pack_rest_v) ? 'the volts at rest are no number' : '',
    overruns(at) && !block.overrun_reason.trim() ? 'say why it went beyond a rating' : '',
  ]
  const missing = computed(() =>
    draft.value.blocks.flatMap((block, at) => {
      const wants = missingOf(block, at).filter(Boolean).join(', ')
      const which = draft.value.blocks.length > 1 ? `Block ${at + 1}: ` : ''
      return wants ? [`${which}${wants}`] : []
    }),
  )
  const keeping = useWrite('run', async (sheet: Schemas['NewSheetRequest']) =>
    dataOf(await api.POST('/api/v1/readings/', { body: sheet })),
  )
  async function keep(): Promise<Schemas['Run'][] | undefined> {
    if (missing.value.length) return undefined
    const made = await keeping.send({
      day: body.value.day,
      stand: body.value.stand,
      blocks: draft.value.blocks.map((block) => ({
        ...blockOf({ ...block, rows: block.rows.filter((row) => !isEmpty(row)) }),
        note: block.note,
        purpose: block.purpose,
        overrun_reason: block.overrun_reason,
        pack_state: block.pack_state as Schemas['PackStateEnum'] | '',
        pack_rest_v: numberOrNull(block.pack_rest_v),
        noticed: noticedKept(block.noticed),
      })),
    })
    if (made) draft.value = goOn(draft.value)
    return made
  }
  const change = (at: number, block: BlockDraft) => {
    draft.value = {
      ...draft.value,
      blocks: draft.value.blocks.map((one, index) => (index === at ? block : one)),
    }
  }
  const add = () => {
    draft.value = {
      ...draft.value,
      blocks: [...draft.value.blocks, newBlock(draft.value.blocks.at(-1))],
    }
  }
  const drop = (at: number) => {
    draft.value = { ...draft.value, blocks: draft.value.blocks.filter((_, index) => index !== at) }
  }
  return {
    draft,
    stands,
    columns,
    look,
    looksOf,
    checked,
    overruns,
    impossible,
    missing,
    keep,
    change,
    add,
    drop,
    problem: keeping.problem,
    busy: keeping.busy,
  }
}
