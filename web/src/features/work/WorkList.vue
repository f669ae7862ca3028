<script setup lang="ts">
/** Long work that waits, runs or has just ended: how far it is, and a way to stop it. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, type Schemas, sentenceOf } from '@/api/client'
import { workQuery } from '@/api/queries'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import { dateTime } from '@/figures/format'
import { farOf, isAtWork, percentOf, wordOfState } from './work'

const { data } = useQuery(workQuery())
const { mayWrite } = useSession()
const SHOWN = 3
const rows = computed(() => {
  const all = data.value?.results ?? []
  const atWork = all.filter(isAtWork)
  return atWork.length ? atWork : all.slice(0, SHOWN)
})
const stopping = useWrite('work', (work: Schemas['LongWork']) =>
  api.POST('/api/v1/work/{id}/stop/', { params: { path: { id: work.id } } }),
)
</script>

<template>
  <section v-if="rows.length" class="sheet" aria-label="Long work">
    <h2>Long work</h2>
    <ul>
      <li v-for="work in rows" :key="work.id">
        <strong>{{ work.title }}</strong>
        <el-progress
          v-if="isAtWork(work)"
          class="bar"
          :percentage="percentOf(work)"
          :indeterminate="work.state === 'running' && !work.total"
          :format="() => farOf(work)"
        />
        <span v-else
          ><span class="tag" :class="work.state === 'done' ? 'within' : 'caution'">{{
            wordOfState(work)
          }}</span>
          {{ work.said }}
          <span class="soft small">{{ work.ended_at ? dateTime(work.ended_at) : '' }}</span></span
        >
        <el-button
          v-if="isAtWork(work) && mayWrite"
          size="small"
          :disabled="work.stop_asked"
          @click="stopping.send(work)"
          >{{ work.stop_asked ? 'Stopping…' : 'Stop it' }}</el-button
        >
      </li>
    </ul>
    <p v-if="stopping.problem.value" class="problem" role="alert">
      {{ sentenceOf(stopping.problem.value) }}
    </p>
  </section>
</template>

<style scoped>
.sheet {
  margin: 12px 0;
}
ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}
li {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 4px 0;
}
.bar {
  flex: 1;
  max-width: 420px;
}
.problem {
  color: var(--stop);
}
</style>
