<script setup lang="ts">
/** The cells of a sheet, what each row means beside them, and what is wrong below its cell. */
import { computed, nextTick, ref } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { dateTime, duration, formatNumber } from '@/figures/format'
import {
  asText,
  cellFault,
  type Cells,
  type Column,
  headOf,
  pasted,
  READ_AT,
  settled,
  type Units,
} from './sheet'

const props = withDefaults(
  defineProps<{
    looks: readonly Schemas['RowLook'][]
    checked: boolean
    columns: readonly Column[]
    units: Units
    /** What a row is called before its number. */
    prefix?: string
  }>(),
  { prefix: 'Row' },
)
const rows = defineModel<Cells[]>({ required: true })
const body = ref<HTMLElement | null>(null)
const said = ref('')
const undo = ref<Cells[][]>([])
const MOST_UNDO = 50

function remember() {
  // Only what is new: going through cells without a change is nothing to take back.
  if (JSON.stringify(undo.value.at(-1)) === JSON.stringify(rows.value)) return
  undo.value = [...undo.value.slice(-MOST_UNDO), rows.value.map((row) => ({ ...row }))]
}
function back() {
  const before = undo.value.pop()
  if (before) rows.value = before
}
/** Written once: what is handed on is only read back after the page was drawn anew. */
function type(at: number, key: string, text: string) {
  const typed = { [key]: text }
  if (key === 'motor_temp_c') typed[READ_AT] = text.trim() ? new Date().toISOString() : ''
  const next = rows.value.map((row, index) => (index === at ? { ...row, ...typed } : row))
  // There is always a row to go on with.
  rows.value = at === next.length - 1 ? [...next, {}] : next
}
function leave(at: number, column: Column, text: string) {
  const now = settled(text, column, props.units)
  if (now !== text) type(at, column.key, now)
}
async function focus(at: number, column: number) {
  await nextTick()
  const field = body.value?.querySelector<HTMLInputElement>(`[data-cell="${at}/${column}"] input`)
  field?.focus()
  field?.select()
}
function onKey(event: Event | KeyboardEvent, at: number, column: number) {
  if (!(event instanceof KeyboardEvent)) return
  if (event.key === 'Enter') {
    event.preventDefault()
    // Leaving the cell turns it over; a last row has another below it since something stands in it.
    void focus(Math.min(at + 1, rows.value.length - 1), column)
  } else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    event.preventDefault()
    void focus(Math.max(0, at + (event.key === 'ArrowDown' ? 1 : -1)), column)
  } else if (event.key === 'd' && (event.ctrlKey || event.metaKey)) {
    // As in a spreadsheet: what stands above is filled in.
    event.preventDefault()
    const own = props.columns[column]
    const above = own && rows.value[at - 1]?.[own.key]
    if (!own || above === undefined) return
    remember()
    type(at, own.key, above)
  } else if (event.key === 'z' && (event.ctrlKey || event.metaKey) && undo.value.length) {
    event.preventDefault()
    back()
  }
}
function onPaste(event: ClipboardEvent, at: number, column: number) {
  const text = event.clipboardData?.getData('text') ?? ''
  if (!/[\t\n]/.test(text.trim())) return
  event.preventDefault()
  remember()
  const put = pasted(rows.value, { row: at, column }, text, props.columns, props.units)
  rows.value = [...put.rows, {}]
  said.value = put.beyond
    ? `${put.beyond} ${put.beyond === 1 ? 'cell' : 'cells'} of what was pasted had no column here and ${put.beyond === 1 ? 'is' : 'are'} left out; Ctrl Z takes it back.`
    : ''
}
function take(at: number) {
  remember()
  rows.value = rows.value.filter((_, index) => index !== at)
}
async function copy() {
  try {
    await navigator.clipboard.writeText(asText(rows.value, props.columns, props.units, props.looks))
    said.value = 'Copied with its heads and what each row means, for a spreadsheet.'
  } catch {
    said.value = 'This browser does not let a page copy here: it needs https or this machine.'
  }
}
/** For reading along; the run's figures carry their own u. */
const rounded = (value: number | null | undefined, decimals: number) =>
  value == null ? value : Number(value.toFixed(decimals))
const lookOf = (at: number) => props.looks[at] ?? null
const findings = (at: number, key: string) =>
  (lookOf(at)?.findings ?? []).filter((one) => one.field === key)
const rowSays = computed(() =>
  rows.value.map((row, at) => [
    ...props.columns.map((column) => cellFault(row, column)).filter(Boolean),
    ...(lookOf(at)?.findings ?? []).filter((one) => !one.owed).map((one) => one.message),
  ]),
)
const owed = computed(() =>
  rows.value.map((_, at) => (lookOf(at)?.findings ?? []).find((one) => one.owed)?.message ?? ''),
)
const rises = computed(() => props.columns.some(({ key }) => key === 'motor_temp_before_c'))
const spreadOf = (at: number) => {
  const look = lookOf(at)
  if (look?.mean_thrust_gf == null || look.spread_gf == null) return ''
  return `Mean of ${look.bursts}: ${formatNumber(look.mean_thrust_gf, 1)} gf, s ${formatNumber(look.spread_gf, 1)} gf.`
}
/** When the motor is cool again, counted from when its temperature was typed. */
function readyOf(at: number): string {
  const seconds = lookOf(at)?.ready_s
  if (seconds == null) return ''
  if (seconds === 0) return 'Cool again: within 5 K of the air.'
  const read = rows.value[at]?.[READ_AT]
  const words = `Cool again (within 5 K of the air) ~${duration(seconds)} after it was read`
  if (!read) return `${words}.`
  const then = new Date(new Date(read).getTime() + 1000 * seconds)
  return `${words}: ready at about ${dateTime(then.toISOString()).slice(11)}.`
}
const burstOf = (at: number) => {
  const look = lookOf(at)
  return look?.burst && (look.bursts ?? 1) > 1 ? `${look.burst} of ${look.bursts}` : ''
}
</script>

<template>
  <div class="across" tabindex="-1">
    <table class="grid readings">
      <thead>
        <tr>
          <th></th>
          <th v-for="column in columns" :key="column.key" :class="column.text ? '' : 'num'">
            {{ headOf(column, units) }}
          </th>
          <th class="num">Thrust</th>
          <th class="num">Power</th>
          <th class="num">Per watt</th>
          <th v-if="rises" class="num">Rise</th>
          <th></th>
        </tr>
      </thead>
      <tbody ref="body">
        <template v-for="(row, at) in rows" :key="at">
          <tr>
            <td class="soft small">
              {{ at + 1 }}<span v-if="burstOf(at)" class="burst">{{ burstOf(at) }}</span>
            </td>
            <td
              v-for="(column, across) in columns"
              :key="column.key"
              class="num"
              :data-cell="`${at}/${across}`"
              @paste="onPaste($event, at, across)"
            >
              <el-input
                :model-value="row[column.key] ?? ''"
                size="small"
                :inputmode="column.text ? 'text' : 'decimal'"
                autocomplete="off"
                :class="{
                  words: column.text,
                  wrong:
                    cellFault(row, column) ||
                    findings(at, column.key).some((one) => one.impossible),
                  odd: findings(at, column.key).some((one) => !one.owed),
                  owes: findings(at, column.key).some((one) => one.owed),
                }"
                :aria-label="`${prefix} ${at + 1}: ${headOf(column, units)}`"
                :aria-invalid="Boolean(cellFault(row, column))"
                :aria-describedby="rowSays[at]?.length ? `row-${at}` : undefined"
                @update:model-value="type(at, column.key, $event)"
                @change="leave(at, column, $event)"
                @focus="remember"
                @keydown="onKey($event, at, across)"
              />
            </td>
            <td class="num meant">
              <Figure
                :value="rounded(lookOf(at)?.thrust_gf, 1)"
                unit="gf"
                reason="the scale was not read"
              />
            </td>
            <td class="num meant">
              <Figure
                :value="rounded(lookOf(at)?.power_w, 1)"
                unit="W"
                reason="no watts, and volts and amps do not make them"
              />
            </td>
            <td class="num meant">
              <Figure
                :value="rounded(lookOf(at)?.efficiency_g_per_w, 2)"
                unit="gf/W"
                reason="needs thrust and power under throttle"
              />
            </td>
            <td v-if="rises" class="num meant">
              <Figure
                :value="rounded(lookOf(at)?.rise_k, 1)"
                unit="K"
                reason="needs the motor's temperature before and after"
              />
            </td>
            <td>
              <el-button v-if="rows.length > 1" link size="small" tabindex="-1" @click="take(at)"
                >Take off<span class="visually-hidden"> row {{ at + 1 }}</span></el-button
              >
            </td>
          </tr>
          <tr v-if="rowSays[at]?.length" class="says">
            <td></td>
            <td :id="`row-${at}`" :colspan="columns.length + 5" role="alert">
              {{ rowSays[at]?.join(' ') }}
            </td>
          </tr>
          <tr v-if="owed[at] || spreadOf(at) || readyOf(at)" class="owes-row">
            <td></td>
            <td :colspan="columns.length + 5" class="soft small">
              {{ [spreadOf(at), readyOf(at)].filter(Boolean).join(' ') }}
              {{ owed[at] }}
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
  <p class="soft small under">
    <span class="tag" :class="checked ? 'within' : ''" role="status">{{
      checked ? 'checked' : 'unchecked'
    }}</span>
    Begin and end with a row at rest: it is the zero. Enter goes down, Ctrl D fills from above,
    paste from a spreadsheet, Ctrl Z takes back. “~40”, “890 to 910” and “&lt; 900” say less than a
    number; “? clip 3 04:12” is read later.
    <el-button size="small" link :disabled="!undo.length" @click="back">Take back</el-button>
    <el-button size="small" link @click="copy">Copy the sheet</el-button>
    <span v-if="said" role="status">{{ said }}</span>
  </p>
</template>

<style scoped>
.readings td {
  padding: 2px 4px;
}
.readings :deep(input) {
  text-align: right;
}
.across {
  overflow-x: auto;
}
.readings .el-input.words {
  min-width: 130px;
}
.words :deep(input) {
  text-align: left;
}
.readings .el-input {
  width: 100%;
  min-width: 58px;
}
.readings :deep(.el-input__wrapper) {
  padding: 1px 6px;
}
.meant {
  white-space: nowrap;
  background: var(--paper-tint);
}
.odd :deep(.el-input__wrapper) {
  box-shadow: 0 0 0 2px var(--caution) inset;
}
.wrong :deep(.el-input__wrapper) {
  box-shadow: 0 0 0 2px var(--stop) inset;
}
.owes :deep(.el-input__wrapper) {
  box-shadow: 0 0 0 1px var(--ink-soft) inset;
}
.burst {
  margin-left: 6px;
  white-space: nowrap;
}
.owes-row td {
  padding-top: 0;
}
.says td {
  background: var(--caution-soft);
  font-size: 13px;
}
.under {
  margin: 6px 0 10px;
}
</style>
