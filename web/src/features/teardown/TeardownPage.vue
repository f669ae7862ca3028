<script setup lang="ts">
/** What is it made of? One question at a time, in a fixed order, one key per answer. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, type Schemas, sentenceOf } from '@/api/client'
import { motorsQuery, refreshRecord, teardownQuery, vocabularyQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import { useSession } from '@/app/useSession'
import Cutaway from '@/cutaway/Cutaway.vue'
import Figure from '@/figures/Figure.vue'
import { answerInWords, answerOfKey, nextOpen, readNumber, suggestionOf } from './answers'

const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const inHand = useInHand()
const { mayWrite } = useSession()
const { data: motors, isPending, error, refetch } = useQuery(motorsQuery())
const { data: vocabulary } = useQuery(vocabularyQuery())

const motorId = ref<number | null>(Number(route.query.motor) || inHand.value)
const sampleId = ref<number>(Number(route.params.sample) || 0)
const motor = computed(() =>
  motors.value?.find((row) =>
    sampleId.value
      ? row.samples.some((sample) => sample.id === sampleId.value)
      : row.id === motorId.value,
  ),
)
watch(
  motor,
  (row) => {
    if (row && !sampleId.value) sampleId.value = row.samples[0]?.id ?? 0
    if (row) inHand.value = row.id
  },
  { immediate: true },
)
const { data: sheet } = useQuery(
  computed(() => ({ ...teardownQuery(sampleId.value), enabled: sampleId.value > 0 })),
)

const attributes = computed(() => vocabulary.value?.attributes ?? [])
const answers = computed(
  () => new Map((sheet.value?.observations ?? []).map((seen) => [seen.attribute as string, seen])),
)
const index = ref(0)
const question = computed(() => attributes.value[index.value])
const current = computed(() => answers.value.get(question.value?.key ?? ''))
const typed = ref('')
const typedU = ref('')
const instrument = ref('calliper')
const note = ref('')
const problem = ref('')
const numberField = ref<HTMLInputElement | null>(null)

watch([question, current], () => {
  typed.value = current.value?.value != null ? String(current.value.value) : ''
  typedU.value = current.value?.u != null ? String(current.value.u) : ''
  note.value = current.value?.note ?? ''
  problem.value = ''
})

async function record(answer: Partial<Schemas['ObservationRequest']>) {
  if (!question.value || !sampleId.value || !mayWrite.value) return
  problem.value = ''
  try {
    await api.PUT('/api/v1/samples/{id}/teardown/', {
      params: { path: { id: sampleId.value } },
      body: {
        attribute: question.value.key as Schemas['AttributeEnum'],
        status: 'observed',
        note: note.value,
        ...answer,
      },
    })
    await client.invalidateQueries({ queryKey: ['teardown', sampleId.value] })
    void refreshRecord(client)
    go(
      nextOpen(
        attributes.value.map((a) => a.key),
        new Set(answers.value.keys()),
        index.value,
      ),
    )
  } catch (failure) {
    problem.value = sentenceOf(failure)
  }
}

function recordNumber() {
  const value = readNumber(typed.value)
  const u = typedU.value ? readNumber(typedU.value) : null
  if (value === null || (typedU.value && u === null)) {
    problem.value = 'Write a number, for instance 21.2.'
    return
  }
  const counted = question.value?.integer
  void record({
    status: counted ? 'observed' : 'measured',
    value,
    u: counted ? null : u,
    instrument: counted ? '' : instrument.value,
  })
}

/** What is on record, with the number that is just being typed in place of its own. */
const drawn = computed(() => {
  const key = question.value?.key
  const value = readNumber(typed.value)
  const kept = sheet.value?.observations ?? []
  if (!key || value === null || question.value?.choices.length) return kept
  return [
    ...kept.filter((seen) => seen.attribute !== key),
    { attribute: key, status: 'measured', value },
  ]
})

function go(to: number) {
  index.value = Math.max(0, Math.min(attributes.value.length - 1, to))
  void nextTick(() => {
    numberField.value?.focus()
    document.querySelector('.questions .here')?.scrollIntoView?.({ block: 'nearest' })
  })
}

function onKey(event: KeyboardEvent) {
  const inField = (event.target as HTMLElement).closest('input, textarea, select')
  if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    if (inField && !(inField as HTMLElement).classList.contains('number')) return
    event.preventDefault()
    go(index.value + (event.key === 'ArrowDown' ? 1 : -1))
  } else if (!inField && question.value) {
    const answer = answerOfKey(question.value, event.key)
    if (answer) void record(answer)
  }
}
onMounted(() => window.addEventListener('keydown', onKey))
onUnmounted(() => window.removeEventListener('keydown', onKey))

function chooseSample(id: number) {
  sampleId.value = id
  void router.replace(`/teardown/${id}`)
}
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <section v-if="motors && !motor" class="sheet">
    <h1>Teardown</h1>
    <p>Choose the motor to take apart.</p>
    <ul class="choose">
      <li v-for="row in motors" :key="row.id">
        <button
          v-for="sample in row.samples"
          :key="sample.id"
          type="button"
          @click="chooseSample(sample.id)"
        >
          {{ row.full_name }} {{ sample.mark }}
        </button>
      </li>
    </ul>
  </section>
  <template v-else-if="motor && vocabulary">
    <header class="head">
      <h1>Teardown: {{ motor.full_name }}</h1>
      <div class="samples" role="group" aria-label="Sample">
        <button
          v-for="sample in motor.samples"
          :key="sample.id"
          type="button"
          :aria-pressed="sample.id === sampleId"
          @click="chooseSample(sample.id)"
        >
          {{ sample.mark }}
        </button>
      </div>
    </header>
    <p class="caution">
      Prop off, supply unplugged, motor cool. Magnets pinch and snap; wear eye protection when you
      pull the bell. The maker's instructions come first.
    </p>
    <div class="columns">
      <ol class="questions" aria-label="Questions in the order of looking">
        <li v-for="(attribute, at) in attributes" :key="attribute.key">
          <h3 v-if="at === 0 || attributes[at - 1]?.step !== attribute.step">
            {{ attribute.step }}
          </h3>
          <button type="button" :class="{ here: at === index }" @click="go(at)">
            <span>{{ attribute.label }}</span>
            <strong v-if="answers.get(attribute.key)">{{
              answerInWords(attribute, answers.get(attribute.key)!)
            }}</strong>
            <span v-else class="soft">not looked at</span>
          </button>
        </li>
      </ol>
      <section v-if="question" class="sheet question">
        <p class="soft">{{ question.step }} · {{ index + 1 }} of {{ attributes.length }}</p>
        <h2>{{ question.label }}</h2>
        <fieldset v-if="mayWrite" class="answers">
          <legend class="visually-hidden">{{ question.label }}</legend>
          <template v-if="question.choices.length">
            <button
              v-for="(choice, at) in question.choices"
              :key="choice.key"
              type="button"
              class="answer"
              :aria-pressed="current?.choice === choice.key"
              @click="record({ status: 'observed', choice: choice.key })"
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
          <form v-else class="measure" @submit.prevent="recordNumber">
            <label
              >Value
              <input ref="numberField" v-model="typed" class="number" inputmode="decimal" />
              {{ question.unit }}</label
            >
            <template v-if="!question.integer">
              <label>± u <input v-model="typedU" inputmode="decimal" /> {{ question.unit }}</label>
              <label>with <input v-model="instrument" class="wide" /></label>
            </template>
            <el-button type="primary" native-type="submit">Keep (Enter)</el-button>
          </form>
          <button
            type="button"
            class="answer quiet"
            :aria-pressed="current?.status === 'could_not_tell'"
            @click="record({ status: 'could_not_tell' })"
          >
            <kbd>0</kbd> could not tell
          </button>
        </fieldset>
        <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
        <p v-if="current && suggestionOf(question, current)" class="suggests">
          Suggests: {{ suggestionOf(question, current) }}.
        </p>
        <p v-if="question.counterpoint" class="soft">
          On the other hand: {{ question.counterpoint }}
        </p>
        <label v-if="mayWrite" class="note"
          >Note, kept with the next answer
          <textarea v-model="note" rows="2" />
        </label>
        <Cutaway
          v-if="sheet"
          class="drawing"
          :seen="drawn"
          :size="{ code: motor.size_code, basis: motor.size_basis }"
          :name="motor.full_name"
        />
        <dl v-if="sheet" class="findings">
          <template v-for="finding in sheet.findings" :key="finding.name">
            <dt>{{ finding.label }} <span class="soft small">derived</span></dt>
            <dd>
              <Figure
                :value="finding.value"
                :u="finding.u"
                :unit="finding.unit"
                :reason="finding.note"
              />
              <span v-if="finding.note" class="soft small"> {{ finding.note }}</span>
            </dd>
          </template>
        </dl>
      </section>
    </div>
  </template>
</template>

<style scoped src="./teardown.css"></style>
