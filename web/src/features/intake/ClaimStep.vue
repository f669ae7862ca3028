<script setup lang="ts">
/** What the maker claims, one line each, checked against each other while it is typed. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage, watchDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, currentOf, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { claimQuantitiesQuery } from '@/api/queries'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { offerUndo } from '@/app/offerUndo'
import { useSession } from '@/app/useSession'
import { readNumber } from '@/figures/readNumber'
import DayField from '@/forms/DayField.vue'
import FieldRow from '@/forms/FieldRow.vue'
import { shown } from '@/merging/merge'
import LoadClaims from './LoadClaims.vue'
import { claimFault } from './typed'
import { TAGS } from './words'

const props = defineProps<{ file: Schemas['MotorFile'] }>()
const { data: quantities, isLoading, error, refetch } = useQuery(claimQuantitiesQuery())
const { mayWrite } = useSession()
const client = useQueryClient()
const id = computed(() => props.file.motor.id)

const SOURCES = ['box label', 'web page', 'data sheet']
const sources = computed(() => [
  ...new Set([...SOURCES, ...props.file.claims.map((claim) => claim.source)]),
])
const source = useLocalStorage('spindle.claim-source', 'box label')
/** The day that the source says it, for what is typed from now; blank where it has none. */
const statedOn = ref('')
// Typed and not on record yet, by motor, source and quantity, with the version it was begun from.
const drafts = useLocalStorage<Record<string, { text: string; version: number | null }>>(
  'spindle.claim-drafts',
  {},
)
const key = (quantity: string) => `${id.value}/${source.value}/${quantity}`
const problems = ref<Record<string, unknown>>({})

const stored = (quantity: string) =>
  props.file.claims.find((c) => c.quantity === quantity && c.source === source.value)
const elsewhere = (quantity: string) =>
  props.file.claims.filter((c) => c.quantity === quantity && c.source !== source.value)
function textOf(claim: Schemas['Claim'] | undefined): string {
  if (!claim) return ''
  return claim.words || (claim.value == null ? '' : String(claim.value))
}
const typed = (quantity: string) => drafts.value[key(quantity)]?.text ?? textOf(stored(quantity))
/** The version that a draft was begun from; null when nothing was claimed yet. */
function begunFrom(quantity: string): number | null {
  const begun = drafts.value[key(quantity)]
  return begun ? begun.version : (stored(quantity)?.version ?? null)
}
const changed = (quantity: string) => typed(quantity) !== textOf(stored(quantity))
function type(quantity: string, text: string) {
  if (text === textOf(stored(quantity))) Reflect.deleteProperty(drafts.value, key(quantity))
  else drafts.value[key(quantity)] = { text, version: begunFrom(quantity) }
}

const checked = ref<Schemas['Remark'][] | null>(null)
const remarks = computed(() => checked.value ?? props.file.remarks)
watchDebounced(
  [drafts, () => props.file.claims, source, quantities],
  async () => {
    if (!mayWrite.value) return
    const own = (quantities.value ?? [])
      .map((q) => ({ q, text: typed(q.key) }))
      .filter(({ q, text }) => text.trim() && !claimFault(q, text))
      .map(({ q, text }) => ({
        quantity: q.key as Schemas['ClaimedQuantityEnum'],
        value: q.words ? null : readNumber(text),
        words: q.words ? text : '',
        source: source.value,
      }))
    const others = props.file.claims
      .filter((c) => c.source !== source.value)
      .map((c) => ({ quantity: c.quantity, value: c.value, words: c.words, source: c.source }))
    try {
      checked.value = dataOf(
        await api.POST('/api/v1/motors/{id}/claim-check/', {
          params: { path: { id: id.value } },
          body: { claims: [...own, ...others] },
        }),
      )
    } catch {
      // Away for a moment: the last remarks stand.
    }
  },
  { debounce: 250, deep: true, immediate: true },
)

type Change = Schemas['ClaimRequest'] | { take: number; version?: number }
const claiming = useWrite('motor', (change: Change): Promise<unknown> =>
  'take' in change
    ? api.DELETE('/api/v1/motors/{id}/claims/{claim_pk}/', {
        params: {
          path: { id: id.value, claim_pk: change.take },
          query: { version: change.version },
        },
      })
    : api.POST('/api/v1/motors/{id}/claims/', {
        params: { path: { id: id.value } },
        body: change,
      }),
)

async function keep(quantity: Schemas['ClaimQuantity'], version?: number) {
  const text = typed(quantity.key)
  Reflect.deleteProperty(problems.value, quantity.key)
  if (!changed(quantity.key) || claimFault(quantity, text) || !source.value.trim()) return
  const row = stored(quantity.key)
  const from = version ?? begunFrom(quantity.key) ?? undefined
  try {
    await claiming.sendOrThrow(
      !text.trim() && row
        ? { take: row.id, version: from }
        : {
            quantity: quantity.key as Schemas['ClaimedQuantityEnum'],
            value: quantity.words ? null : readNumber(text),
            words: quantity.words ? text : '',
            source: source.value,
            stated_on: statedOn.value || null,
            version: from,
          },
    )
    Reflect.deleteProperty(drafts.value, key(quantity.key))
    if (!text.trim() && row)
      offerUndo(quantity.label, () =>
        claiming.sendOrThrow({
          quantity: row.quantity,
          value: row.value,
          words: row.words,
          source: row.source,
          stated_on: row.stated_on,
        }),
      )
  } catch (failure) {
    problems.value[quantity.key] = failure
  }
}

function next(event: Event | KeyboardEvent, quantity: Schemas['ClaimQuantity']) {
  event.preventDefault()
  void keep(quantity)
  const fields = [...document.querySelectorAll<HTMLInputElement>('.claims table input')]
  fields[fields.indexOf(event.target as HTMLInputElement) + 1]?.focus()
}

function said(quantity: Schemas['ClaimQuantity']): string {
  const fault = claimFault(quantity, typed(quantity.key))
  const problem = problems.value[quantity.key]
  if (fault || !problem || currentOf(problem)) return fault
  return fieldMessage(problem, quantity.words ? 'words' : 'value') || sentenceOf(problem)
}

/** Somebody else wrote this claim first: theirs, to be taken or overwritten. */
const theirs = (quantity: string) => currentOf(problems.value[quantity])
async function takeTheirs(quantity: string) {
  Reflect.deleteProperty(drafts.value, key(quantity))
  Reflect.deleteProperty(problems.value, quantity)
  await client.invalidateQueries({ queryKey: ['motor', id.value] })
}
</script>

<template>
  <div class="halves">
    <section class="sheet claims">
      <h2>Claimed <span class="tag claimed">claims, not measurements</span></h2>
      <el-form class="line" @submit.prevent>
        <FieldRow for="claim-source" label="Source of what you type now" width="wide">
          <el-select
            id="claim-source"
            v-model="source"
            filterable
            allow-create
            default-first-option
            :disabled="!mayWrite"
          >
            <el-option v-for="one in sources" :key="one" :value="one" :label="one" />
          </el-select>
        </FieldRow>
        <DayField
          v-model="statedOn"
          label="It says so on"
          placeholder="where it has a date"
          :disabled="!mayWrite"
        />
      </el-form>
      <PageState :loading="isLoading" :error="error" :retry="refetch" />
      <table class="grid">
        <tbody>
          <tr>
            <td>kV on the label</td>
            <td>
              {{ file.motor.kv_label_rpm_per_v ?? '—' }} <span class="soft small">rpm/V</span>
            </td>
            <td class="soft small">with the motor's name, under Parcel</td>
          </tr>
          <tr v-for="quantity in quantities" :key="quantity.key">
            <td>
              <label :for="`claim-${quantity.key}`">{{ quantity.label }}</label>
            </td>
            <td class="typed">
              <el-input
                :id="`claim-${quantity.key}`"
                class="claim"
                :model-value="typed(quantity.key)"
                :inputmode="quantity.words ? 'text' : 'decimal'"
                :disabled="!mayWrite"
                autocomplete="off"
                :aria-invalid="said(quantity) ? 'true' : undefined"
                :aria-describedby="`said-${quantity.key}`"
                @update:model-value="type(quantity.key, $event)"
                @keydown.enter="next($event, quantity)"
                @blur="keep(quantity)"
              />
              <span class="soft small">{{ quantity.unit }}</span>
            </td>
            <td :id="`said-${quantity.key}`" class="small">
              <span v-if="said(quantity)" class="field-problem" role="alert">{{
                said(quantity)
              }}</span>
              <span v-else-if="theirs(quantity.key)" role="alert">
                {{ theirs(quantity.key)?.who }} wrote
                {{ shown(theirs(quantity.key)?.values[quantity.words ? 'words' : 'value']) }}
                meanwhile.
                <el-button size="small" @click="takeTheirs(quantity.key)">Take that</el-button>
                <el-button size="small" @click="keep(quantity, theirs(quantity.key)?.version)"
                  >Keep mine</el-button
                >
              </span>
              <span v-else-if="changed(quantity.key)" class="soft">Enter keeps it</span>
              <span v-else-if="stored(quantity.key)" class="soft"
                >{{ source
                }}<template v-if="stored(quantity.key)?.stated_on"
                  >, {{ stored(quantity.key)?.stated_on }}</template
                ></span
              >
              <span v-for="other in elsewhere(quantity.key)" :key="other.id" class="soft">
                · {{ other.words || other.value }} {{ other.unit }} by {{ other.source
                }}<template v-if="other.stated_on">, {{ other.stated_on }}</template>
              </span>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="soft small">
        Empty a line and press Enter to take a claim off; the history keeps it.
      </p>
    </section>
    <section class="sheet">
      <h2>Does it add up?</h2>
      <p v-if="!remarks.length" class="soft">Type a rating: it is checked at once.</p>
      <ul class="findings" aria-live="polite">
        <li v-for="(remark, at) in remarks" :key="at">
          <span class="tag" :class="TAGS[remark.state]">{{ remark.state }}</span>
          {{ remark.message }}
        </li>
      </ul>
    </section>
    <LoadClaims class="whole" :file="file" :source="source" :stated-on="statedOn" />
  </div>
</template>

<style scoped src="./intake.css"></style>
<style scoped>
.whole {
  grid-column: 1 / -1;
}
.typed {
  white-space: nowrap;
}
.typed .claim {
  width: 116px;
  margin-right: 6px;
}
td label {
  margin: 0;
}
td .field-problem {
  margin: 0;
}
</style>
