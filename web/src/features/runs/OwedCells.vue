<script setup lang="ts">
/** Cells that wait for footage: read them here, or give them up with a reason. */
import { computed, ref } from 'vue'
import { api, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import { numberFault, numberOf } from '@/figures/readNumber'

const props = defineProps<{
  cells: readonly Schemas['LaterCell'][]
  /** How many there are, where only the first are shown. */
  count?: number
  /** Whether the motor is named beside each. */
  motors?: boolean
}>()
const { mayWrite } = useSession()
const typed = ref<Record<number, string>>({})
const reading = useWrite(
  'run',
  (sent: { cell: Schemas['LaterCell']; body: Schemas['PatchedReadLaterRequest'] }) =>
    api.PATCH('/api/v1/readings/later/{id}/', {
      params: { path: { id: sent.cell.id } },
      body: { ...sent.body, version: sent.cell.version },
    }),
)
const text = (cell: Schemas['LaterCell']) => typed.value[cell.id]?.trim() ?? ''
const fault = (cell: Schemas['LaterCell']) => numberFault(text(cell))
const read = (cell: Schemas['LaterCell']) =>
  reading.send({ cell, body: { value: numberOf(text(cell)) } })
/** What is typed that is no number is the reason why there will be none. */
const giveUp = (cell: Schemas['LaterCell']) =>
  reading.send({ cell, body: { dropped_reason: text(cell) } })
const more = computed(() => Math.max(0, (props.count ?? 0) - props.cells.length))
</script>

<template>
  <section class="sheet" aria-label="To read from footage">
    <h2>
      To read from footage <span class="soft">({{ count ?? cells.length }})</span>
    </h2>
    <ul>
      <li v-for="cell in cells" :key="cell.id">
        <span class="what">
          <RouterLink :to="`/runs/${cell.run}`">Run {{ cell.run }}</RouterLink
          >, row {{ cell.row }}: <strong>{{ cell.head }}</strong>
          <template v-if="motors"> · {{ cell.motor_name }}</template>
          <span v-if="cell.clip || cell.time_code" class="soft">
            · {{ [cell.clip, cell.time_code].filter(Boolean).join(' at ') }}</span
          >
        </span>
        <form v-if="mayWrite" @submit.prevent="text(cell) && !fault(cell) && read(cell)">
          <el-input
            v-model="typed[cell.id]"
            size="small"
            :aria-label="`${cell.head}, run ${cell.run}, row ${cell.row}`"
            placeholder="value, or why not"
          />
          <el-button
            size="small"
            native-type="submit"
            type="primary"
            :disabled="!text(cell) || Boolean(fault(cell))"
            >Read</el-button
          >
          <el-button size="small" :disabled="!fault(cell)" @click="giveUp(cell)">Give up</el-button>
        </form>
      </li>
    </ul>
    <p v-if="more" class="soft small">and {{ more }} more.</p>
    <p v-if="reading.problem.value" class="problem" role="alert">
      {{ sentenceOf(reading.problem.value) }}
    </p>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 4px 10px;
  padding: 5px 0;
  border-bottom: 1px solid var(--line-soft);
}
form {
  display: flex;
  gap: 6px;
}
form .el-input {
  width: 130px;
}
form .el-button {
  margin: 0;
}
.problem {
  color: var(--stop);
}
</style>
