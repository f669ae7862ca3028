<script setup lang="ts">
/** What went wrong with a sample, dated; a mistake is struck out, never deleted. */
import { useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { ref } from 'vue'
import { api, type Schemas, sentenceOf } from '@/api/client'
import { refreshRecord } from '@/api/queries'
import { useSession } from '@/app/useSession'
import RecordTable from '@/features/intake/RecordTable.vue'
import { choices } from '@/words/words'

const props = defineProps<{ file: Schemas['MotorFile'] }>()
const { mayWrite } = useSession()
const client = useQueryClient()
const EMPTY = { sample: 0, kind: 'other', destroyed: false, note: '' }
const draft = useLocalStorage(`spindle.incident-${props.file.motor.id}`, { ...EMPTY })
const open = ref(false)
const problem = ref('')

async function add() {
  problem.value = ''
  const sample = draft.value.sample || props.file.motor.samples[0]?.id
  if (!sample) return
  try {
    await api.POST('/api/v1/samples/{id}/incidents/', {
      params: { path: { id: sample } },
      body: {
        kind: draft.value.kind as Schemas['IncidentKindEnum'],
        destroyed: draft.value.destroyed,
        note: draft.value.note,
      },
    })
    draft.value = { ...EMPTY }
    open.value = false
    await refreshRecord(client)
  } catch (failure) {
    problem.value = sentenceOf(failure)
  }
}
</script>

<template>
  <section class="sheet">
    <h2>Incidents</h2>
    <RecordTable
      :head="['Sample', 'What', 'On', 'Note']"
      :numeric="[]"
      kind="incidents"
      :records="file.incidents"
      empty="None on file."
    >
      <template #cells="{ record }">
        <td>{{ record.mark }}</td>
        <td>{{ record.label }} <span v-if="record.destroyed" class="tag over">destroyed</span></td>
        <td class="soft small">{{ record.happened_on }}</td>
        <td class="small">{{ record.note }}</td>
      </template>
    </RecordTable>
    <template v-if="mayWrite">
      <el-button v-if="!open" size="small" @click="open = true">Note an incident</el-button>
      <form v-else class="line" @submit.prevent="add">
        <select v-model="draft.sample" aria-label="Sample">
          <option :value="0">{{ file.motor.samples[0]?.mark }}</option>
          <option v-for="sample in file.motor.samples.slice(1)" :key="sample.id" :value="sample.id">
            {{ sample.mark }}
          </option>
        </select>
        <select v-model="draft.kind" aria-label="What happened">
          <option v-for="one in choices('incident')" :key="one.key" :value="one.key">
            {{ one.label }}
          </option>
        </select>
        <label><input v-model="draft.destroyed" type="checkbox" /> destroyed</label>
        <input v-model="draft.note" class="note" aria-label="Note" placeholder="What happened" />
        <el-button type="primary" native-type="submit">Note it</el-button>
        <el-button @click="open = false">Close</el-button>
      </form>
    </template>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
}
.note {
  flex: 1;
  min-width: 120px;
  height: 32px;
  border: 1px solid var(--el-border-color);
  border-radius: 3px;
  padding: 0 8px;
}
.problem {
  color: var(--stop);
}
</style>
