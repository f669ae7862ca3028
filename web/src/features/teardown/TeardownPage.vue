<script setup lang="ts">
/** What is it made of? One question at a time, in a fixed order, one key per answer. */
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { type Schemas, sentenceOf } from '@/api/client'
import { motorOfSampleQuery, motorQuery, vocabularyQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import { useSession } from '@/app/useSession'
import Cutaway from '@/cutaway/Cutaway.vue'
import SamplePicker from '@/figures/SamplePicker.vue'
import PhotoStrip from '@/features/photos/PhotoStrip.vue'
import AnswerPanel from './AnswerPanel.vue'
import { nextOpen } from './answers'
import FindingList from './FindingList.vue'
import QuestionList from './QuestionList.vue'
import ReferenceField from './ReferenceField.vue'
import { useAnswerKeys } from './useAnswerKeys'
import { useReference } from './useReference'
import { useSheet } from './useSheet'
import TeardownChoice from './TeardownChoice.vue'
import WaitingAnswers from './WaitingAnswers.vue'

const route = useRoute()
const router = useRouter()
const inHand = useInHand()
const { mayWrite } = useSession()
const { data: vocabulary } = useQuery(vocabularyQuery())

const sampleId = ref<number>(Number(route.params.sample) || 0)
const motorId = ref<number | null>(Number(route.query.motor) || inHand.value)
const ofSample = useQuery(computed(() => motorOfSampleQuery(sampleId.value || null)))
const ofMotor = useQuery(computed(() => motorQuery(sampleId.value ? null : motorId.value)))
const looked = computed(() => (sampleId.value ? ofSample : ofMotor))
const motor = computed(() => looked.value.data.value ?? null)
/** There is nothing to look up, or what was looked up is not on the bench. */
const nothing = computed(
  () => (!sampleId.value && !motorId.value) || looked.value.data.value === null,
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

// The sample that "same as", "inferred" and "less than" speak of.
const { chosenReference, referenceId, reference } = useReference(question)

async function give(answer: Partial<Schemas['ObservationRequest']>) {
  const asked = question.value
  if (!asked || !sampleId.value || !mayWrite.value) return
  const own = panel.value
  const of = sampleId.value
  turnedDown.value = turnedDown.value.filter((one) => one.key !== asked.key)
  // The next question comes at once: a key pressed now is for the question that is shown.
  const safe = record({ attribute: asked.key as Schemas['AttributeEnum'], ...answer })
  const keys = attributes.value.map((a) => a.key)
  go(nextOpen(keys, new Set([...answers.value.keys(), asked.key]), index.value))
  if (await safe) own?.settled(of, asked.key, versionOf(of, asked.key))
  // Nobody is pulled back in mid-typing; what was refused waits above the questions.
  else {
    const why = sentenceOf(problem.value)
    turnedDown.value = [...turnedDown.value, { key: asked.key, label: asked.label, why }]
  }
}
/** The version on record; null where the answer waits for the server or another sample is shown. */
const versionOf = (of: number, key: string) =>
  (of === sampleId.value && answers.value.get(key)?.version) || null
/** Answers that the server refused, with the reason; what was typed still stands in them. */
const turnedDown = ref<{ key: string; label: string; why: string }[]>([])
function backTo(key: string) {
  turnedDown.value = turnedDown.value.filter((one) => one.key !== key)
  go(attributes.value.findIndex((one) => one.key === key))
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
  void nextTick(() => panel.value?.focusNumber())
}

useAnswerKeys({ question, reference, panel, step: (by) => go(index.value + by) })

function chooseSample(id: number) {
  sampleId.value = id
  index.value = 0
  void router.replace(`/teardown/${id}`)
}
</script>

<template>
  <PageState
    v-if="!nothing"
    :loading="looked.isPending.value"
    :error="looked.error.value"
    :retry="looked.refetch"
  />
  <TeardownChoice v-if="nothing" @choose="chooseSample" />
  <template v-else-if="motor && vocabulary">
    <header class="head">
      <h1>Teardown: {{ motor.full_name }}</h1>
      <div class="tools">
        <SamplePicker :samples="motor.samples" :chosen="sampleId" @choose="chooseSample" />
        <ReferenceField v-model="chosenReference" :motor="motor" :sample="sampleId" />
        <RouterLink v-if="referenceId" :to="`/teardown/compare?samples=${sampleId},${referenceId}`"
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
    <p v-for="one in turnedDown" :key="one.key" class="problem" role="alert">
      {{ one.label }}: {{ one.why }}
      <el-button size="small" @click="backTo(one.key)">Back to it</el-button>
    </p>
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
          @answer="give"
          @typed="typing = $event"
        />
        <Cutaway
          v-if="sheet"
          class="drawing"
          :seen="drawn"
          :size="{ code: motor.size_code ?? '', basis: motor.size_basis ?? '' }"
          :name="motor.full_name"
        />
        <PhotoStrip :sample="sampleId" :mark="mark" :attribute="question.key" compact />
        <FindingList v-if="sheet" :findings="sheet.findings" />
      </section>
    </div>
  </template>
</template>

<style scoped src="./teardown.css"></style>
