<script setup lang="ts">
/** One question with everything it may be answered by: one key, one click, or a number. */
import { useLocalStorage } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { readNumber } from '@/figures/readNumber'
import MeasuredField from '@/forms/MeasuredField.vue'
import { answerInWords, numberFault, type Reference, suggestionOf } from './answers'

type Answer = Partial<Schemas['ObservationRequest']>

const props = defineProps<{
  sample: number
  question: Schemas['Attribute']
  current?: Schemas['Observation']
  reference: Reference | null
  mayWrite: boolean
}>()
const emit = defineEmits<{ answer: [answer: Answer]; typed: [value: number | null] }>()

interface Draft {
  /** The answer it was begun from; null when there was none yet. */
  version: number | null
  value?: string
  u?: string
  instrument?: string
  note?: string
  written?: string
}
// What is half typed outlives a reload, per sample and question.
const drafts = useLocalStorage<Record<string, Draft>>('spindle.answer-drafts', {})
const key = computed(() => `${props.sample}/${props.question.key}`)
const lastInstrument = useLocalStorage('spindle.instrument', 'calliper')

const typed = ref('')
const typedU = ref('')
const instrument = ref('')
const written = ref('')
const note = ref('')
const fault = ref('')
const numberField = ref<{ focus: () => void } | null>(null)
const noteField = ref<{ focus: () => void } | null>(null)

watch(
  [key, () => props.current],
  () => {
    const draft: Partial<Draft> = drafts.value[key.value] ?? {}
    const own = props.current?.status === 'measured' || props.current?.status === 'observed'
    const text = (value: number | null | undefined) => (own && value != null ? String(value) : '')
    typed.value = draft.value ?? text(props.current?.value)
    typedU.value = draft.u ?? text(props.current?.u)
    written.value =
      draft.written ?? (own && draft.value === undefined ? (props.current?.typed ?? '') : '')
    instrument.value = draft.instrument ?? props.current?.instrument ?? ''
    if (!instrument.value && !props.question.integer) instrument.value = lastInstrument.value
    note.value = draft.note ?? props.current?.note ?? ''
    fault.value = ''
  },
  { immediate: true },
)

/** A draft keeps the version it was begun from, also when that was none. */
function begunFrom(): number | null {
  const begun = drafts.value[key.value]
  return begun ? begun.version : (props.current?.version ?? null)
}

function keepDraft() {
  drafts.value[key.value] = {
    version: begunFrom(),
    value: typed.value,
    u: typedU.value,
    instrument: instrument.value,
    written: written.value,
    note: note.value,
  }
  fault.value = ''
  emit('typed', props.question.choices.length ? null : readNumber(typed.value))
}

function answer(given: Answer) {
  fault.value = ''
  // Somebody may have answered since this was begun: then the two are laid side by side.
  const begun = drafts.value[key.value]
  const from = begun ? { version: begun.version ?? undefined } : {}
  sent.set(key.value, textOf(key.value))
  emit('answer', { note: note.value, ...from, ...given })
}

function answerNumber() {
  fault.value = numberFault(props.question, typed.value)
  const u = typedU.value ? readNumber(typedU.value) : null
  if (!fault.value && typedU.value && u === null)
    fault.value = 'The ± is a number too, for instance 0.02.'
  if (fault.value) {
    numberField.value?.focus()
    return
  }
  const counted = props.question.integer
  if (!counted && instrument.value) lastInstrument.value = instrument.value
  answer({
    status: counted ? 'observed' : 'measured',
    value: readNumber(typed.value),
    u: counted ? null : u,
    instrument: counted ? '' : instrument.value,
    typed: written.value,
  })
}

/** What stood in the draft of a question when its answer was sent. */
const sent = new Map<string, string>()
const textOf = (of: string) => JSON.stringify(drafts.value[of] ?? null)

/**
 * Called when an answer is safe: what was half typed has become it. What was typed while it was on
 * its way stays, begun from the version that the answer made.
 */
function settled(sample: number, attribute: string, version: number | null) {
  const of = `${sample}/${attribute}`
  const draft = drafts.value[of]
  if (!draft) return
  if (textOf(of) === sent.get(of)) Reflect.deleteProperty(drafts.value, of)
  else draft.version = version
}

const chosen = (choice: string) =>
  props.current?.choice === choice && props.current.status === 'observed'

defineExpose({
  settled,
  // Selected, so that typing replaces what stands there.
  focusNumber: () => void nextTick(() => numberField.value?.focus()),
  focusNote: () => noteField.value?.focus(),
  answer,
})
</script>

<template>
  <fieldset v-if="mayWrite" class="answers">
    <legend class="visually-hidden">{{ question.label }}</legend>
    <template v-if="question.choices.length">
      <button
        v-for="(choice, at) in question.choices"
        :key="choice.key"
        type="button"
        class="answer"
        :aria-pressed="chosen(choice.key)"
        @click="answer({ status: 'observed', choice: choice.key })"
      >
        <kbd>{{ at + 1 }}</kbd>
        <span
          >{{ choice.label }}<small v-if="choice.suggests">{{ choice.suggests }}</small>
          <small v-if="choice.helps.length || choice.costs.length" class="effects"
            ><template v-if="choice.helps.length">for {{ choice.helps.join(', ') }}</template
            ><template v-if="choice.helps.length && choice.costs.length"> · </template
            ><template v-if="choice.costs.length"
              >against {{ choice.costs.join(', ') }}</template
            ></small
          ></span
        >
      </button>
    </template>
    <el-form v-else class="measure" @submit.prevent="answerNumber">
      <MeasuredField
        ref="numberField"
        v-model:value="typed"
        v-model:u="typedU"
        v-model:written="written"
        v-model:instrument="instrument"
        class="reading"
        :label="question.label"
        :unit="question.unit ?? ''"
        :counted="question.integer"
        :fault="fault"
        @typed="keepDraft"
        @enter="answerNumber"
      />
      <el-button type="primary" native-type="submit">Keep (Enter)</el-button>
    </el-form>
    <p v-if="fault" class="problem" role="alert">{{ fault }}</p>

    <div class="others">
      <button
        type="button"
        class="answer quiet"
        :aria-pressed="current?.status === 'could_not_tell'"
        @click="answer({ status: 'could_not_tell' })"
      >
        <kbd>u</kbd> could not tell
      </button>
      <button
        type="button"
        class="answer quiet"
        :aria-pressed="!current || current.status === 'not_looked'"
        @click="answer({ status: 'not_looked' })"
      >
        <kbd>x</kbd> not looked at
      </button>
      <template v-if="reference">
        <button
          type="button"
          class="answer quiet"
          :disabled="!reference.answered"
          :aria-pressed="current?.status === 'same_as'"
          @click="answer({ status: 'same_as', reference: reference.id })"
        >
          <kbd>s</kbd> same as {{ reference.name }}
        </button>
        <button
          v-if="reference.family"
          type="button"
          class="answer quiet"
          :disabled="!reference.answered"
          :aria-pressed="current?.status === 'inferred'"
          @click="answer({ status: 'inferred', reference: reference.id })"
        >
          <kbd>i</kbd> inferred from {{ reference.name }}
        </button>
        <template v-if="question.ordinal_words.length">
          <button
            v-for="(word, at) in question.ordinal_words"
            :key="word"
            type="button"
            class="answer quiet"
            :aria-pressed="
              current?.status === 'ordinal' && current.ordinal === ['less', 'same', 'more'][at]
            "
            @click="
              answer({
                status: 'ordinal',
                ordinal: (['less', 'same', 'more'] as const)[at],
                reference: reference.id,
              })
            "
          >
            <kbd>{{ '<=>'[at] }}</kbd> {{ word }} {{ at === 1 ? 'as' : 'than' }}
            {{ reference.name }}
          </button>
        </template>
      </template>
    </div>
    <label class="note"
      >Note, kept with the answer
      <el-input
        ref="noteField"
        v-model="note"
        type="textarea"
        :autosize="{ minRows: 1, maxRows: 4 }"
        @input="keepDraft"
      />
    </label>
    <el-button
      v-if="current && note !== (current.note ?? '')"
      size="small"
      @click="
        answer({
          status: current.status,
          choice: current.choice,
          value: current.value,
          u: current.u,
          ordinal: current.ordinal,
          reference: current.reference,
          instrument: current.instrument,
          typed: current.typed,
        })
      "
      >Keep the note alone</el-button
    >
  </fieldset>
  <p v-else class="readonly">{{ current ? answerInWords(question, current) : 'not looked at' }}</p>
  <p v-if="current?.reference_changed" class="moved" role="status">
    {{ current.reference_name }} was answered anew since this was taken from it.
  </p>
  <p v-if="current && suggestionOf(question, current)" class="suggests">
    Suggests: {{ suggestionOf(question, current) }}.
  </p>
  <p v-if="question.counterpoint" class="soft">On the other hand: {{ question.counterpoint }}</p>
</template>

<style scoped src="./answers.css"></style>
