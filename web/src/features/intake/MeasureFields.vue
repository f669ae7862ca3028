<script setup lang="ts">
/** Measures of a sample as lines: a number with its unit, Enter keeps it and goes to the next. */
import { computed, nextTick, ref, toRef } from 'vue'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import { answerInWords } from '@/features/teardown/answers'
import WaitingAnswers from '@/features/teardown/WaitingAnswers.vue'
import { type Measure, useMeasures } from './useMeasures'

const props = defineProps<{ sample: number; keys: string[]; chosen?: string }>()
const emit = defineEmits<{ at: [key: string]; typed: [key: string, text: string] }>()
const { mayWrite } = useSession()
const fields = ref<HTMLElement | null>(null)
const { measures, absent, typed, typedU, changed, type, keep, faults, instrument, sheet } =
  useMeasures(toRef(props, 'sample'), toRef(props, 'keys'))

const shown = computed(() => measures.value.filter((m) => !absent.value.has(m.attribute.key)))
const inputOf = (key: string) =>
  fields.value?.querySelector<HTMLElement>(`[data-measure="${key}"]`) ?? null

async function next(m: Measure) {
  if (!(await keep(m))) {
    inputOf(m.attribute.key)?.focus()
    return
  }
  const at = shown.value.findIndex((one) => one.attribute.key === m.attribute.key)
  await nextTick()
  const following = shown.value[at + 1]
  if (following) inputOf(following.attribute.key)?.focus()
}

function onInput(m: Measure, event: Event, part: '' | '±' = '') {
  const text = (event.target as HTMLInputElement).value
  type(m, text, part)
  if (!part) emit('typed', m.attribute.key, text)
}

/** A number that stands there is replaced by typing, as on an instrument. */
function atField(m: Measure, event: Event) {
  emit('at', m.attribute.key)
  ;(event.target as HTMLInputElement).select()
}

async function choose(m: Measure, event: Event) {
  const choice = (event.target as HTMLSelectElement).value
  await sheet.record(
    choice
      ? { attribute: m.attribute.key, status: 'observed', choice }
      : { attribute: m.attribute.key, status: 'not_looked' },
  )
}
const taken = (m: Measure) =>
  m.seen && !['measured', 'observed', 'not_looked'].includes(m.seen.status)
    ? answerInWords(m.attribute, m.seen)
    : ''
const waiting = computed(() =>
  sheet.waiting.value.filter((item) => props.keys.includes(item.answer.attribute)),
)
defineExpose({ focus: (key: string) => inputOf(key)?.focus() })
</script>

<template>
  <WaitingAnswers
    :waiting="waiting"
    :attributes="measures.map((m) => m.attribute)"
    @settle="sheet.settle"
    @drop="sheet.drop"
  />
  <PageState
    :loading="sheet.query.isLoading.value"
    :error="sheet.query.error.value"
    :retry="sheet.query.refetch"
  />
  <table ref="fields" class="grid measures">
    <tbody>
      <tr v-for="m in shown" :key="m.attribute.key" :class="{ chosen: chosen === m.attribute.key }">
        <td>
          <label :for="`m-${m.attribute.key}`">{{ m.attribute.label }}</label>
        </td>
        <td class="value">
          <select
            v-if="m.attribute.choices.length"
            :id="`m-${m.attribute.key}`"
            :data-measure="m.attribute.key"
            :value="m.seen?.status === 'observed' ? m.seen.choice : ''"
            :disabled="!mayWrite"
            @focus="emit('at', m.attribute.key)"
            @change="choose(m, $event)"
            @keydown.enter.prevent="next(m)"
          >
            <option value="">not looked at</option>
            <option v-for="choice in m.attribute.choices" :key="choice.key" :value="choice.key">
              {{ choice.label }}
            </option>
          </select>
          <template v-else>
            <input
              :id="`m-${m.attribute.key}`"
              :data-measure="m.attribute.key"
              class="num"
              inputmode="decimal"
              autocomplete="off"
              :value="typed(m)"
              :disabled="!mayWrite"
              :aria-invalid="faults[m.attribute.key] ? 'true' : undefined"
              :aria-describedby="`f-${m.attribute.key}`"
              @focus="atField(m, $event)"
              @input="onInput(m, $event)"
              @keydown.enter.prevent="next(m)"
              @change="keep(m)"
            />
            <template v-if="!m.attribute.integer">
              ±
              <input
                class="num u"
                inputmode="decimal"
                autocomplete="off"
                :aria-label="`u of ${m.attribute.label}`"
                :value="typedU(m)"
                :disabled="!mayWrite"
                @focus="atField(m, $event)"
                @input="onInput(m, $event, '±')"
                @keydown.enter.prevent="next(m)"
                @change="keep(m)"
              />
            </template>
            <span class="soft small">{{ m.attribute.unit }}</span>
          </template>
        </td>
        <td :id="`f-${m.attribute.key}`" class="small said">
          <span v-if="faults[m.attribute.key]" class="field-problem" role="alert">{{
            faults[m.attribute.key]
          }}</span>
          <span v-else-if="changed(m)" class="soft">Enter keeps it</span>
          <span v-else-if="taken(m)" class="soft">{{ taken(m) }}</span>
          <span v-else-if="m.seen?.instrument" class="soft">{{ m.seen.instrument }}</span>
        </td>
      </tr>
    </tbody>
  </table>
  <p v-if="mayWrite" class="line with">
    <label for="m-with">measured with</label>
    <input id="m-with" v-model="instrument" />
  </p>
  <p v-if="absent.size && shown.length < measures.length" class="soft small">
    {{ measures.length - shown.length }} of these do not apply: {{ [...absent.values()][0] }}.
  </p>
</template>

<style scoped src="./intake.css"></style>
<style scoped>
.measures td {
  padding: 2px 8px 2px 0;
}
.measures label {
  margin: 0;
  font-size: 14px;
}
.value {
  white-space: nowrap;
}
.value input {
  width: 82px;
}
.value input.u {
  width: 62px;
}
.value select {
  width: 168px;
}
.said {
  min-width: 110px;
}
.chosen {
  background: var(--copper-soft);
}
.with {
  align-items: center;
  gap: 8px;
}
.with input {
  width: 140px;
}
.with label {
  margin: 0;
}
</style>
