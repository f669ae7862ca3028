<script setup lang="ts">
/** Rankings as they stood: keep this one, and see who moved since another and why. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { type AskedRanking, keptRankingsQuery, movesQuery } from '@/api/judgeQueries'
import { useWrite } from '@/api/useWrite'
import { dateTime } from '@/figures/format'
import PageState from '@/app/PageState.vue'
import ChoiceField from '@/forms/ChoiceField.vue'
import TextField from '@/forms/TextField.vue'

const props = defineProps<{ asked: AskedRanking; mayWrite: boolean }>()
const kept = useQuery(keptRankingsQuery())
const against = ref<number | null>(null)
const moves = useQuery(computed(() => movesQuery(against.value, props.asked)))
const title = ref('')
const saving = useWrite('ranking', async (body: Schemas['NewKeptRankingRequest']) =>
  dataOf(await api.POST('/api/v1/rank/kept/', { body })),
)
async function keep() {
  const made = await saving.send({ title: title.value, asked: props.asked })
  if (!made) return
  title.value = ''
  against.value = made.id
}
const router = useRouter()
const beginning = useWrite('verdict', async (ranking: number) =>
  dataOf(await api.POST('/api/v1/verdicts/', { body: { ranking } })),
)
async function writeOn(ranking: number) {
  const made = await beginning.send(ranking)
  if (made) void router.push(`/publish/verdict/${made.id}`)
}
const day = (text: string) => dateTime(text).slice(0, 10)
const choices = computed(() =>
  (kept.data.value ?? []).map((one) => ({
    key: one.id,
    label: `${one.title}, ${day(one.kept_at)}`,
  })),
)
const said = computed(() => fieldMessage(saving.problem.value, 'title'))
</script>

<template>
  <section class="sheet kept" aria-label="Rankings that were kept">
    <h2>Who moved, and why</h2>
    <div class="bar">
      <ChoiceField
        v-if="choices.length"
        id="kept-ranking"
        v-model="against"
        label="Since the ranking"
        placeholder="none chosen"
        :choices="choices"
      />
      <el-button
        v-if="mayWrite && against !== null"
        :loading="beginning.busy.value"
        @click="writeOn(against)"
        >Write its verdict</el-button
      >
      <form v-if="mayWrite" @submit.prevent="keep">
        <TextField v-model="title" label="Keep this ranking as" :problem="said" />
        <el-button native-type="submit" :disabled="!title.trim()" :loading="saving.busy.value"
          >Keep it</el-button
        >
      </form>
    </div>
    <p v-if="saving.problem.value && !said" class="problem" role="alert">
      {{ sentenceOf(saving.problem.value) }}
    </p>
    <p v-if="beginning.problem.value" class="problem" role="alert">
      {{ sentenceOf(beginning.problem.value) }}
    </p>
    <p v-if="!choices.length && kept.data.value" class="soft small">
      None is kept yet. A kept ranking stays as it is; after a motor is added or run again, it shows
      who moved and why.
    </p>
    <PageState
      v-if="against !== null"
      :loading="moves.isPending.value"
      :error="moves.error.value"
      :retry="moves.refetch"
    />
    <template v-if="against !== null && moves.data.value">
      <p v-if="!moves.data.value.moved.length">
        Nobody moved; {{ moves.data.value.stayed }} motor{{
          moves.data.value.stayed === 1 ? '' : 's'
        }}
        kept their places.
      </p>
      <table v-else class="grid">
        <thead>
          <tr>
            <th scope="col">Motor</th>
            <th scope="col" class="num">Was</th>
            <th scope="col" class="num">Is</th>
            <th scope="col">Why</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in moves.data.value.moved" :key="one.name">
            <td>{{ one.name }}</td>
            <td class="num">{{ one.before ?? '—' }}</td>
            <td class="num">{{ one.after ?? '—' }}</td>
            <td>{{ one.reasons.join('; ') }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.bar,
.bar form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  align-items: end;
}
.problem {
  color: var(--stop);
}
</style>
