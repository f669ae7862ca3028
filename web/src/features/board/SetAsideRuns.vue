<script setup lang="ts">
/** Runs on the bench's disk that could not be brought to the record: named, kept, tried again. */
import { onKeyStroke } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, dataOf, sentenceOf } from '@/api/client'
import { useSession } from '@/app/useSession'
import { useBench } from '@/live/useBench'

const bench = useBench()
const { mayWrite } = useSession()
const runs = computed(() => bench.frame?.set_aside ?? [])
const problem = ref('')
const busy = ref('')

async function retry(run_id: string) {
  if (busy.value) return
  problem.value = ''
  busy.value = run_id
  try {
    bench.take(dataOf(await api.POST('/api/v1/bench/retry/', { body: { run_id } })))
  } catch (failure) {
    problem.value = sentenceOf(failure)
  } finally {
    busy.value = ''
  }
}

onKeyStroke('r', (event) => {
  const target = event.target as HTMLElement
  const first = runs.value[0]
  if (event.ctrlKey || event.metaKey || event.altKey || !first || !mayWrite.value) return
  if (!target.closest('input, textarea, select')) void retry(first.run_id)
})
</script>

<template>
  <section v-if="runs.length" class="sheet remark" aria-label="Runs that could not be stored">
    <h2>
      {{ runs.length === 1 ? 'A run' : `${runs.length} runs` }} on the bench’s disk could not be
      stored
    </h2>
    <p class="soft">
      The recording is kept there and nothing else waits for it. Mend the cause, then try again.
    </p>
    <ul>
      <li v-for="(run, index) in runs" :key="run.run_id">
        <strong>{{ run.title || run.run_id }}</strong>: {{ run.reason }}
        <el-button
          v-if="mayWrite"
          size="small"
          :loading="busy === run.run_id"
          @click="retry(run.run_id)"
          >Try again <span v-if="index === 0" class="key">r</span></el-button
        >
      </li>
    </ul>
    <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
  </section>
</template>

<style scoped>
ul {
  margin: 6px 0 0;
  padding-left: 18px;
}
li {
  margin: 4px 0;
  overflow-wrap: anywhere;
}
.key {
  margin-left: 6px;
  font-size: 11px;
  border: 1px solid var(--line);
  border-radius: 3px;
  padding: 0 4px;
}
</style>
