<script setup lang="ts">
/** Runs asked for as one archive, which is made apart. */
import { computed, ref } from 'vue'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'

const props = defineProps<{
  /** How many runs the list has found. */
  count: number
  /** Numbers of those that were taken by hand. */
  chosen: readonly number[]
  /** What the list was asked for. */
  filters: Record<string, string>
}>()
const open = ref(false)
const withLogs = ref(true)
const meant = computed(() => props.chosen.length || props.count)
const asking = useWrite('archive', async (body: Schemas['NewExportRequest']) =>
  dataOf(
    await api.POST('/api/v1/exports/', {
      params: { query: body.runs ? {} : props.filters },
      body,
    }),
  ),
)
async function ask() {
  const runs = props.chosen.length ? [...props.chosen] : null
  if (await asking.send({ runs, with_logs: withLogs.value })) open.value = false
}
</script>

<template>
  <el-popover v-model:visible="open" trigger="click" :width="340">
    <template #reference>
      <el-button :disabled="!meant">Take out {{ meant }}</el-button>
    </template>
    <p>
      As one archive: a table of {{ meant === 1 ? 'the run' : `these ${meant} runs` }}, their points
      with u, and their logs, all as CSV in a zip. It is made apart and kept for three days.
    </p>
    <el-checkbox v-model="withLogs" label="with every sample (the logs)" />
    <p>
      <el-button type="primary" :loading="asking.busy.value" @click="ask">Make it</el-button>
    </p>
    <p v-if="asking.problem.value" class="problem" role="alert">
      {{ sentenceOf(asking.problem.value) }}
    </p>
  </el-popover>
</template>

<style scoped>
.problem {
  color: var(--stop);
}
</style>
