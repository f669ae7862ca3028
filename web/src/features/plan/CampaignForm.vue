<script setup lang="ts">
/** A new campaign: its question, and the samples, propellers and supplies it names. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { letterQuery } from '@/api/afterwardsQueries'
import { api, dataOf, fieldMessage, sentenceOf, type Schemas } from '@/api/client'
import { motorQuery, motorSearchQuery } from '@/api/queries'
import { propellersQuery, suppliesQuery } from '@/api/rigQueries'
import { useWrite } from '@/api/useWrite'
import { readTyped } from '@/figures/readNumber'
import ChoiceField from '@/forms/ChoiceField.vue'
import FieldRow from '@/forms/FieldRow.vue'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import { choices } from '@/words/words'

const props = defineProps<{
  /** A reader's request that the campaign answers. */
  request?: number | null
}>()
const emit = defineEmits<{ begun: [id: number]; close: [] }>()
const draft = reactive({
  title: '',
  question: 'comparison',
  samples: [] as number[],
  motors: [] as number[],
  propellers: [] as number[],
  supplies: [] as number[],
  common_thrust_gf: '500',
  goal_pct: '2',
})
const search = ref('')
const { data: motors } = useQuery(computed(() => motorSearchQuery(search.value, 1)))
const { data: propellers } = useQuery(propellersQuery())
const { data: supplies } = useQuery(suppliesQuery())
/** What was chosen keeps its name, whatever is searched for afterwards. */
const seen = new Map<number, string>()
const samples = computed(() => {
  for (const motor of motors.value?.results ?? [])
    for (const one of motor.samples) seen.set(one.id, `${motor.full_name} · ${one.mark}`)
  return [...seen].map(([key, label]) => ({ key, label }))
})
/** What the reader names is named here too; once, so that it can be changed after it. */
const { data: letter } = useQuery(computed(() => letterQuery(props.request ?? null)))
const { data: itsMotor } = useQuery(computed(() => motorQuery(letter.value?.motor ?? null)))
let taken = false
watch(
  [letter, itsMotor],
  ([asked, motor]) => {
    if (taken || !asked || (asked.motor && !motor)) return
    taken = true
    draft.question = 'request'
    if (!draft.title) draft.title = asked.text.replace(/\s+/g, ' ').slice(0, 120)
    for (const one of motor?.samples ?? []) seen.set(one.id, `${motor?.full_name} · ${one.mark}`)
    if (motor && !draft.samples.length) draft.samples = motor.samples.map((one) => one.id)
    if (asked.propeller && !draft.propellers.length) draft.propellers = [asked.propeller]
    if (asked.supply && !draft.supplies.length) draft.supplies = [asked.supply]
  },
  { immediate: true },
)
const seenModels = new Map<number, string>()
const models = computed(() => {
  for (const motor of motors.value?.results ?? []) seenModels.set(motor.id, motor.full_name)
  return [...seenModels].map(([key, label]) => ({ key, label }))
})
const gaps = computed(() => {
  const found = []
  if (!draft.title.trim()) found.push('Give it a title')
  if (!draft.samples.length) found.push('Name motors')
  if (!draft.propellers.length) found.push('Name propellers')
  if (!draft.supplies.length) found.push('Name a supply')
  for (const [text, name] of [
    [draft.common_thrust_gf, 'Common thrust'],
    [draft.goal_pct, 'Goal'],
  ] as const)
    if (readTyped(text).kind !== 'number') found.push(`${name}: write a number`)
  return found
})
const beginning = useWrite('campaign', async (body: Schemas['NewCampaignRequest']) =>
  dataOf(await api.POST('/api/v1/campaigns/', { body })),
)
const joining = useWrite('letter', async (campaign: number) =>
  dataOf(
    await api.PATCH('/api/v1/letters/{id}/', {
      params: { path: { id: letter.value?.id ?? 0 } },
      body: { campaign, version: letter.value?.version },
    }),
  ),
)
const numberIn = (text: string) => {
  const typed = readTyped(text)
  return typed.kind === 'number' ? typed.value : undefined
}
async function begin() {
  const made = await beginning.send({
    ...draft,
    question: draft.question as Schemas['NewCampaignRequest']['question'],
    common_thrust_gf: numberIn(draft.common_thrust_gf),
    goal_pct: numberIn(draft.goal_pct),
  })
  if (!made) return
  if (letter.value && !letter.value.campaign) await joining.send(made.id)
  emit('begun', made.id)
}
const said = (name: string) => fieldMessage(beginning.problem.value, name)
</script>

<template>
  <section class="sheet" aria-label="A new campaign">
    <h2>A new campaign</h2>
    <p v-if="letter" class="soft">It answers a reader: “{{ letter.text }}”</p>
    <el-form class="fields" @submit.prevent="begin">
      <TextField v-model="draft.title" label="What is asked" :problem="said('title')" />
      <ChoiceField
        id="question"
        v-model="draft.question"
        label="Kind of question"
        :choices="choices('question')"
      />
      <FieldRow label="Samples" for="campaign-samples" class="wide">
        <el-select
          id="campaign-samples"
          v-model="draft.samples"
          multiple
          filterable
          remote
          :remote-method="(words: string) => (search = words)"
          placeholder="motor or maker"
        >
          <el-option v-for="one in samples" :key="one.key" :value="one.key" :label="one.label" />
        </el-select>
      </FieldRow>
      <FieldRow label="Motors not at hand" for="campaign-motors" class="wide">
        <el-select
          id="campaign-motors"
          v-model="draft.motors"
          multiple
          filterable
          remote
          :remote-method="(words: string) => (search = words)"
          placeholder="predicted beside the others, never run"
        >
          <el-option v-for="one in models" :key="one.key" :value="one.key" :label="one.label" />
        </el-select>
      </FieldRow>
      <FieldRow label="Propellers" for="campaign-propellers" class="wide">
        <el-select id="campaign-propellers" v-model="draft.propellers" multiple filterable>
          <el-option
            v-for="one in propellers ?? []"
            :key="one.id"
            :value="one.id"
            :label="one.full_name"
          />
        </el-select>
      </FieldRow>
      <FieldRow label="Supplies" for="campaign-supplies" class="wide">
        <el-select id="campaign-supplies" v-model="draft.supplies" multiple filterable>
          <el-option
            v-for="one in supplies ?? []"
            :key="one.id"
            :value="one.id"
            :label="one.name"
          />
        </el-select>
      </FieldRow>
      <NumberField
        v-model="draft.common_thrust_gf"
        label="g/W is read at"
        unit="gf"
        :problem="said('common_thrust_gf')"
      />
      <NumberField
        v-model="draft.goal_pct"
        label="Thrust and current known within"
        unit="%"
        :problem="said('goal_pct')"
      />
    </el-form>
    <p v-if="gaps.length" class="soft small">{{ gaps.join(' · ') }}</p>
    <p v-if="beginning.problem.value" role="alert">{{ sentenceOf(beginning.problem.value) }}</p>
    <el-button
      type="primary"
      :disabled="gaps.length > 0"
      :loading="beginning.busy.value"
      @click="begin"
      >Begin</el-button
    >
    <el-button @click="emit('close')">Leave it</el-button>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px 16px;
  margin-bottom: 10px;
}
.wide {
  grid-column: 1 / -1;
}
.wide .el-select {
  width: 100%;
}
</style>
