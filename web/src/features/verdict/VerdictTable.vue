<script setup lang="ts">
/** Verdicts: how each stands, and a way to begin one of a motor, of a kept comparison or of a kept
 * ranking. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, dataOf, sentenceOf } from '@/api/client'
import { savedComparisonsQuery } from '@/api/compareQueries'
import { keptRankingsQuery } from '@/api/judgeQueries'
import { useWrite } from '@/api/useWrite'
import { VERDICTS_A_PAGE, verdictsQuery } from '@/api/verdictQueries'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import { useSession } from '@/app/useSession'
import { dateTime } from '@/figures/format'
import MotorField from '@/forms/MotorField.vue'

const router = useRouter()
const { mayWrite } = useSession()
const page = ref(1)
const { data, error, refetch } = useQuery(computed(() => verdictsQuery(page.value)))
const { data: kept } = useQuery(savedComparisonsQuery())
const motor = ref<number | null>(useInHand().value)
const other = ref<string | undefined>()
const { data: rankings } = useQuery(keptRankingsQuery())
/** What a verdict may be of beside a motor, each by kind and number. */
const others = computed(() => [
  ...(kept.value ?? []).map((one) => ({
    key: `comparison ${one.id}`,
    label: one.name,
    of: { comparison: one.id },
  })),
  ...(rankings.value ?? []).map((one) => ({
    key: `ranking ${one.id}`,
    label: `${one.title} (ranking)`,
    of: { ranking: one.id },
  })),
])
type Of = { motor?: number; comparison?: number; ranking?: number }
const beginning = useWrite('verdict', async (of: Of) =>
  dataOf(await api.POST('/api/v1/verdicts/', { body: of })),
)
async function begin(of: Of) {
  const made = await beginning.send(of)
  if (made) void router.push(`/publish/verdict/${made.id}`)
}
</script>

<template>
  <section class="sheet" aria-labelledby="verdicts">
    <h2 id="verdicts">Verdicts</h2>
    <form v-if="mayWrite" class="begin" @submit.prevent="motor && begin({ motor })">
      <MotorField v-model="motor" label="On a motor" class="motor" />
      <el-button
        type="primary"
        native-type="submit"
        :disabled="!motor"
        :loading="beginning.busy.value"
        >Write it</el-button
      >
      <template v-if="others.length">
        <el-select
          v-model="other"
          filterable
          default-first-option
          placeholder="on a kept comparison or ranking"
          aria-label="On a kept comparison or ranking"
        >
          <el-option v-for="one in others" :key="one.key" :value="one.key" :label="one.label" />
        </el-select>
        <el-button
          :disabled="!other"
          @click="begin(others.find((one) => one.key === other)?.of ?? {})"
          >Write it on that</el-button
        >
      </template>
    </form>
    <p v-if="beginning.problem.value" class="fault" role="alert">
      {{ sentenceOf(beginning.problem.value) }}
    </p>
    <PageState :loading="!data && !error" :error="error" :retry="refetch" />
    <p v-if="data && !data.results.length">
      No verdict is begun. Name a motor: what its runs would say is proposed, with the evidence.
    </p>
    <table v-if="data?.results.length" class="grid wide">
      <thead>
        <tr>
          <th>Of</th>
          <th>In a sentence</th>
          <th>Evidence</th>
          <th>Stands</th>
          <th>Changed</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in data.results" :key="one.id">
          <td>
            <RouterLink :to="`/publish/verdict/${one.id}`">{{ one.subject }}</RouterLink>
          </td>
          <td>
            <em v-if="one.sentence">{{ one.sentence }}</em><span v-else class="soft"
              >not written</span
            >
          </td>
          <td>{{ one.grade }}</td>
          <td>
            <span v-if="one.stale" class="stale"
              >{{ one.stale }} stale figure{{ one.stale === 1 ? '' : 's' }}</span
            >
            <span v-else-if="one.blocked" class="soft">{{ one.blocked }} to do</span>
            <span v-else class="ready">ready to publish</span>
            <span v-if="one.matters" class="soft">, discloses an interest</span>
          </td>
          <td class="num soft">{{ dateTime(one.changed_at) }}</td>
        </tr>
      </tbody>
    </table>
    <el-pagination
      v-if="data && data.count > VERDICTS_A_PAGE"
      v-model:current-page="page"
      layout="prev, pager, next"
      :page-size="VERDICTS_A_PAGE"
      :total="data.count"
    />
  </section>
</template>

<style scoped>
.begin {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: flex-end;
  margin-bottom: 10px;
}
.begin .el-select {
  width: 270px;
}
.motor {
  flex: 0 1 340px;
}
.wide {
  width: 100%;
}
td.num {
  white-space: nowrap;
}
td {
  vertical-align: top;
}
.stale {
  color: var(--caution);
}
.ready {
  color: var(--within);
}
.fault {
  color: var(--stop);
}
</style>
