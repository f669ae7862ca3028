<script setup lang="ts">
/** One letter: what it says, to which plan it led, how it was answered. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { campaignsQuery } from '@/api/queries'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import ChoiceField from '@/forms/ChoiceField.vue'
import { askedFor } from '@/features/plan/asked'
import { wordOf } from '@/words/words'

const props = defineProps<{ letter: Schemas['Letter'] }>()
const { mayWrite } = useSession()
const router = useRouter()
const answering = ref(false)
const answer = ref('')
const plan = ref(0)
const declined = ref(false)
const { data: campaigns } = useQuery(
  computed(() => ({ ...campaignsQuery(), enabled: answering.value })),
)
const plans = computed(() => [
  { key: 0, label: 'no plan' },
  ...(campaigns.value ?? []).map((one) => ({ key: one.id, label: one.title })),
])
const changing = useWrite('letter', async (body: Schemas['PatchedLetterRequest']) =>
  dataOf(
    await api.PATCH('/api/v1/letters/{id}/', {
      params: { path: { id: props.letter.id } },
      body: { ...body, version: props.letter.version },
    }),
  ),
)
function begin() {
  answer.value = props.letter.answer ?? ''
  plan.value = props.letter.campaign ?? 0
  declined.value = props.letter.declined ?? false
  answering.value = true
}
async function keep() {
  const body = { answer: answer.value, campaign: plan.value || null }
  const refused = props.letter.kind === 'request' && Boolean(answer.value.trim())
  if (await changing.send(refused ? { ...body, declined: declined.value } : body))
    answering.value = false
}
</script>

<template>
  <li class="letter">
    <p class="head">
      <strong>{{ wordOf('letter', letter.kind) }}</strong>
      <span class="soft small">
        {{ letter.received_on
        }}<template v-if="letter.person">, {{ letter.person }}</template></span
      >
      <RouterLink v-if="letter.motor" :to="`/motors/${letter.motor}?look=afterwards`">{{
        letter.motor_name
      }}</RouterLink>
      <span v-if="letter.kind === 'request'" class="small">
        {{ askedFor({ ...letter, person: '' })
        }}<template v-if="letter.propeller_name || letter.supply_name"
          >: {{ [letter.propeller_name, letter.supply_name].filter(Boolean).join(', ') }}</template
        ></span
      >
      <span
        v-if="letter.state === 'stale' || letter.state === 'declined'"
        class="tag"
        :class="{ caution: letter.state === 'stale' }"
        >{{ letter.state }}</span
      >
      <span v-if="letter.failure" class="tag over">{{ wordOf('incident', letter.failure) }}</span>
    </p>
    <p class="text">{{ letter.text }}</p>
    <p
      v-if="letter.craft_words || letter.propeller_words || letter.temp_c != null"
      class="soft small"
    >
      {{ [letter.craft_words, letter.propeller_words].filter(Boolean).join(', ')
      }}<template v-if="letter.temp_c != null">
        · {{ letter.temp_c }}&#8239;°C, as they say</template
      >
    </p>
    <p v-if="letter.campaign" class="small">
      Led to the plan
      <RouterLink :to="`/plan?campaign=${letter.campaign}`">{{ letter.campaign_title }}</RouterLink>
    </p>
    <p v-if="letter.answer && !answering" class="answer">
      <span class="soft small">{{ letter.answered_on }}:</span> {{ letter.answer }}
    </p>
    <el-button v-if="mayWrite && !answering" text size="small" @click="begin">{{
      letter.answer ? 'Change the answer' : letter.kind === 'wish' ? 'Their answer …' : 'Answer …'
    }}</el-button>
    <el-button
      v-if="mayWrite && !letter.campaign && letter.kind === 'request' && letter.state === 'open'"
      text
      size="small"
      @click="router.push(`/plan?request=${letter.id}`)"
      >Plan it …</el-button
    >
    <form v-if="answering" @submit.prevent="keep">
      <el-input
        v-model="answer"
        type="textarea"
        aria-label="Answer"
        :autosize="{ minRows: 2, maxRows: 8 }"
        :maxlength="4000"
      />
      <div class="row">
        <ChoiceField v-model="plan" label="It led to" :choices="plans" />
        <el-checkbox v-if="letter.kind === 'request'" v-model="declined"
          >It will not be done; this says why</el-checkbox
        >
        <el-button type="primary" native-type="submit" :loading="changing.busy.value"
          >Keep</el-button
        >
        <el-button text @click="answering = false">Leave it</el-button>
      </div>
    </form>
    <p v-if="changing.problem.value" role="alert" class="fault">
      {{ sentenceOf(changing.problem.value) }}
    </p>
  </li>
</template>

<style scoped>
.letter {
  padding: 8px 0;
  border-top: 1px solid var(--rule);
}
.letter p {
  margin: 2px 0;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: baseline;
}
.text,
.answer {
  max-width: 76ch;
  white-space: pre-line;
}
.answer {
  padding-left: 10px;
  border-left: 3px solid var(--within);
}
.row {
  display: flex;
  gap: 10px;
  align-items: flex-end;
  max-width: 640px;
  margin-top: 6px;
}
.fault {
  color: var(--stop);
}
</style>
