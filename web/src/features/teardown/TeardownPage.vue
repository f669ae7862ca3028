<script setup lang="ts">
/** What is it made of? One question at a time, in a fixed order, one key per answer. */
import { useQuery } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { type Schemas, sentenceOf } from '@/api/client'
import { motorsQuery, teardownQuery, vocabularyQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import { useSession } from '@/app/useSession'
import Cutaway from '@/cutaway/Cutaway.vue'
import Figure from '@/figures/Figure.vue'
import SamplePicker from '@/figures/SamplePicker.vue'
import PhotoStrip from '@/features/photos/PhotoStrip.vue'
import AnswerPanel from './AnswerPanel.vue'
import { answerOfKey, answerOfSign, nextOpen, type Reference } from './answers'
import QuestionList from './QuestionList.vue'
import { referencesFor } from './references'
import { useSheet } from './useSheet'
import WaitingAnswers from './WaitingAnswers.vue'

const route = useRoute()
const router = useRouter()
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
const { query, observations, answers, waiting, problem, record, settle, drop } = useSheet(sampleId)
const sheet = computed(() => query.data.value)
const mark = computed(
  () => motor.value?.samples.find((sample) => sample.id === sampleId.value)?.mark ?? '',
)

const absent = computed(
  () => new Map((sheet.value?.not_applicable ?? []).map((item) => [item.attribute, item.reason])),
)
const attributes = computed(() =>
  (vocabulary.value?.attributes ?? []).filter(
    (a) => a.step !== vocabulary.value?.outside_step && !absent.value.has(a.key),
  ),
)
const index = ref(0)
const question = computed(() => attributes.value[index.value])
const current = computed(() => answers.value.get(question.value?.key ?? ''))
const panel = ref<InstanceType<typeof AnswerPanel> | null>(null)
const typing = ref<number | null>(null)
const problemText = computed(() => (problem.value ? sentenceOf(problem.value) : ''))

// The sample that "same as", "inferred" and "less than" speak of.
const references = computed(() =>
  motor.value ? referencesFor(motors.value ?? [], motor.value, sampleId.value) : [],
)
const referenceId = ref(0)
watch(
  [references, sampleId],
  () => {
    if (!references.value.some((choice) => choice.id === referenceId.value))
      referenceId.value = references.value[0]?.id ?? 0
  },
  { immediate: true },
)
const { data: referenceSheet } = useQuery(
  computed(() => ({ ...teardownQuery(referenceId.value), enabled: referenceId.value > 0 })),
)
const reference = computed<Reference | null>(() => {
  const chosen = references.value.find((choice) => choice.id === referenceId.value)
  if (!chosen || !question.value) return null
  const seen = referenceSheet.value?.observations.find((o) => o.attribute === question.value?.key)
  return {
    id: chosen.id,
    name: chosen.name,
    family: chosen.group !== 'the bench',
    answered: seen?.status === 'measured' || seen?.status === 'observed',
  }
})

async function give(answer: Partial<Schemas['ObservationRequest']>) {
  const asked = question.value
  if (!asked || !sampleId.value || !mayWrite.value) return
  const own = panel.value
  if (!(await record({ attribute: asked.key as Schemas['AttributeEnum'], ...answer }))) return
  own?.settled(asked.key)
  // Whoever went on meanwhile is not pulled back.
  if (question.value?.key !== asked.key) return
  typing.value = null
  const keys = attributes.value.map((a) => a.key)
  go(nextOpen(keys, new Set(answers.value.keys()), index.value))
}

/** What is on record, with the number that is just being typed in place of its own. */
const drawn = computed(() => {
  const key = question.value?.key
  if (!key || typing.value === null || question.value?.choices.length) return observations.value
  return [
    ...observations.value.filter((seen) => seen.attribute !== key),
    { attribute: key, status: 'measured', value: typing.value },
  ]
})

function go(to: number) {
  index.value = Math.max(0, Math.min(attributes.value.length - 1, to))
  typing.value = null
  problem.value = null
  void nextTick(() => panel.value?.focusNumber())
}

function onKey(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey || !question.value) return
  const field = (event.target as HTMLElement).closest?.('input, textarea, select')
  const inNumber = field?.classList.contains('number') ?? false
  if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    if (field && !inNumber) return
    event.preventDefault()
    go(index.value + (event.key === 'ArrowDown' ? 1 : -1))
    return
  }
  if (field && !inNumber) return
  if (event.key === 'n') {
    event.preventDefault()
    panel.value?.focusNote()
    return
  }
  const answer =
    answerOfSign(question.value, event.key, reference.value) ??
    (inNumber ? null : answerOfKey(question.value, event.key))
  if (!answer) return
  event.preventDefault()
  panel.value?.answer(answer)
}
useEventListener(window, 'keydown', onKey)

function chooseSample(id: number) {
  sampleId.value = id
  index.value = 0
  void router.replace(`/teardown/${id}`)
}
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <section v-if="motors && !motor" class="sheet">
    <h1>Teardown</h1>
    <p v-if="motors.length">Choose the motor to take apart.</p>
    <p v-else class="soft">
      No motor is on the bench yet. <RouterLink to="/intake">Take one in</RouterLink> first.
    </p>
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
      <div class="tools">
        <SamplePicker :samples="motor.samples" :chosen="sampleId" @choose="chooseSample" />
        <label v-if="references.length"
          >beside
          <select v-model="referenceId" aria-label="Reference sample">
            <optgroup
              v-for="group in ['this motor', 'its family', 'the bench']"
              :key="group"
              :label="group"
            >
              <option
                v-for="choice in references.filter((one) => one.group === group)"
                :key="choice.id"
                :value="choice.id"
              >
                {{ choice.name }}
              </option>
            </optgroup>
          </select></label
        >
        <RouterLink :to="`/teardown/compare?samples=${sampleId},${referenceId}`"
          >Compare the two</RouterLink
        >
      </div>
    </header>
    <p class="caution">
      Prop off, supply unplugged, motor cool. Magnets pinch and snap; wear eye protection when you
      pull the bell. The maker's instructions come first.
    </p>
    <PageState :loading="query.isPending.value" :error="query.error.value" :retry="query.refetch" />
    <WaitingAnswers
      :waiting="waiting"
      :attributes="vocabulary.attributes"
      @settle="settle"
      @drop="drop"
    />
    <p v-if="absent.size" class="reason">
      {{ absent.size }} questions do not apply: {{ [...absent.values()][0] }}.
    </p>
    <div class="columns">
      <QuestionList
        :attributes="attributes"
        :answers="answers"
        :waiting="new Set(waiting.map((item) => item.answer.attribute as string))"
        :index="index"
        @go="go"
      />
      <section v-if="question" class="sheet question">
        <p class="soft">{{ question.step }} · {{ index + 1 }} of {{ attributes.length }}</p>
        <h2>{{ question.label }}</h2>
        <AnswerPanel
          ref="panel"
          :sample="sampleId"
          :question="question"
          :current="current"
          :reference="reference"
          :may-write="mayWrite"
          :problem="problemText"
          @answer="give"
          @typed="typing = $event"
        />
        <Cutaway
          v-if="sheet"
          class="drawing"
          :seen="drawn"
          :size="{ code: motor.size_code, basis: motor.size_basis }"
          :name="motor.full_name"
        />
        <PhotoStrip :sample="sampleId" :mark="mark" :attribute="question.key" compact />
        <dl v-if="sheet" class="findings">
          <template v-for="finding in sheet.findings" :key="finding.name">
            <dt>
              {{ finding.label }} <span class="soft small">{{ finding.origin || 'derived' }}</span>
            </dt>
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
