<script setup lang="ts">
/** Measures of a sample as lines: a number with its unit, Enter keeps it and goes to the next. */
import { computed, nextTick, toRef } from 'vue'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import { answerInWords } from '@/features/teardown/answers'
import MeasuredField from '@/forms/MeasuredField.vue'
import WaitingAnswers from '@/features/teardown/WaitingAnswers.vue'
import { type Measure, useMeasures } from './useMeasures'

const props = defineProps<{ sample: number; keys: string[]; chosen?: string }>()
const emit = defineEmits<{ at: [key: string]; typed: [key: string, text: string] }>()
const { mayWrite } = useSession()
const fields = new Map<string, { focus: () => void }>()
function keepRef(key: string, field: unknown) {
  if (field) fields.set(key, field as { focus: () => void })
  else fields.delete(key)
}
const {
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
} = useMeasures(toRef(props, 'sample'), toRef(props, 'keys'))

const shown = computed(() => measures.value.filter((m) => !absent.value.has(m.attribute.key)))
async function next(m: Measure) {
  if (!(await keep(m))) {
    fields.get(m.attribute.key)?.focus()
    return
  }
  const at = shown.value.findIndex((one) => one.attribute.key === m.attribute.key)
  await nextTick()
  const following = shown.value[at + 1]
  if (following) fields.get(following.attribute.key)?.focus()
}

function onInput(m: Measure, text: string, part: '' | '±' = '') {
  type(m, text, part)
  if (!part) emit('typed', m.attribute.key, text)
}

/** A choice is kept as it is made, and the next field follows, as after a number. */
async function choose(m: Measure, choice: string) {
  await sheet.record(
    choice
      ? { attribute: m.attribute.key, status: 'observed', choice }
      : { attribute: m.attribute.key, status: 'not_looked' },
  )
  await next(m)
}
const taken = (m: Measure) =>
  m.seen && !['measured', 'observed', 'not_looked'].includes(m.seen.status)
    ? answerInWords(m.attribute, m.seen)
    : ''
const waiting = computed(() =>
  sheet.waiting.value.filter((item) => props.keys.includes(item.answer.attribute)),
)
defineExpose({ focus: (key: string) => fields.get(key)?.focus() })
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
  <table class="grid measures">
    <tbody>
      <tr v-for="m in shown" :key="m.attribute.key" :class="{ chosen: chosen === m.attribute.key }">
        <td>
          <label v-if="m.attribute.choices.length" :for="`m-${m.attribute.key}`">{{
            m.attribute.label
          }}</label>
          <span v-else aria-hidden="true">{{ m.attribute.label }}</span>
        </td>
        <td class="value">
          <el-select
            v-if="m.attribute.choices.length"
            :id="`m-${m.attribute.key}`"
            :ref="(select) => keepRef(m.attribute.key, select)"
            class="choice"
            filterable
            default-first-option
            :empty-values="[undefined]"
            :model-value="m.seen?.status === 'observed' ? m.seen.choice : ''"
            :disabled="!mayWrite"
            @focus="emit('at', m.attribute.key)"
            @change="choose(m, $event)"
          >
            <el-option value="" label="not looked at" />
            <el-option
              v-for="choice in m.attribute.choices"
              :key="choice.key"
              :value="choice.key"
              :label="choice.label"
            />
          </el-select>
          <MeasuredField
            v-else
            :id="`m-${m.attribute.key}`"
            :ref="(field) => keepRef(m.attribute.key, field)"
            bare
            :label="m.attribute.label"
            :unit="m.attribute.unit ?? ''"
            :counted="m.attribute.integer"
            :disabled="!mayWrite"
            :fault="faults[m.attribute.key]"
            :value="typed(m)"
            :u="typedU(m)"
            :written="written(m)"
            @update:value="onInput(m, $event)"
            @update:written="write(m, $event)"
            @update:u="onInput(m, $event, '±')"
            @at="emit('at', m.attribute.key)"
            @enter="next(m)"
            @left="keep(m)"
          />
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
  <p v-if="mayWrite" class="with">
    <label for="m-with">measured with</label>
    <el-input id="m-with" v-model="instrument" />
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
.value .choice {
  width: 190px;
}
.said {
  min-width: 110px;
}
.chosen {
  background: var(--copper-soft);
}
.with {
  display: flex;
  align-items: center;
  gap: 8px;
  margin-top: 8px;
}
.with .el-input {
  width: 150px;
}
.with label {
  margin: 0;
}
</style>
