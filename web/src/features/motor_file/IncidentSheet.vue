<script setup lang="ts">
/** What went wrong with a sample, dated; a mistake is struck out, never deleted. */
import { useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import ChoiceField from '@/forms/ChoiceField.vue'
import TextField from '@/forms/TextField.vue'
import RecordTable from '@/features/intake/RecordTable.vue'
import { choices } from '@/words/words'

const props = defineProps<{ file: Schemas['MotorFile'] }>()
const { mayWrite } = useSession()
const EMPTY = { sample: 0, kind: 'other', destroyed: false, note: '' }
const draft = useLocalStorage(`spindle.incident-${props.file.motor.id}`, { ...EMPTY })
const open = ref(false)
const samples = computed(() =>
  props.file.motor.samples.map((one) => ({ key: one.id, label: one.mark })),
)
const sample = computed({
  get: () => draft.value.sample || (samples.value[0]?.key ?? 0),
  set: (id: number) => (draft.value.sample = id),
})
const adding = useWrite('sample', (body: Schemas['IncidentRequest']) =>
  api.POST('/api/v1/samples/{id}/incidents/', { params: { path: { id: sample.value } }, body }),
)

async function add() {
  if (!sample.value) return
  const sent = await adding.send({
    kind: draft.value.kind as Schemas['IncidentKindEnum'],
    destroyed: draft.value.destroyed,
    note: draft.value.note,
  })
  if (!sent) return
  draft.value = { ...EMPTY }
  open.value = false
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
      <el-form v-else class="line" @submit.prevent="add">
        <ChoiceField v-model="sample" label="Sample" width="narrow" :choices="samples" />
        <ChoiceField v-model="draft.kind" label="What happened" :choices="choices('incident')" />
        <TextField v-model="draft.note" label="Note" width="wide" />
        <el-checkbox v-model="draft.destroyed">destroyed</el-checkbox>
        <el-button type="primary" native-type="submit" :loading="adding.busy.value"
          >Note it</el-button
        >
        <el-button @click="open = false">Close</el-button>
      </el-form>
    </template>
    <p v-if="adding.problem.value" class="problem" role="alert">
      {{ sentenceOf(adding.problem.value) }}
    </p>
  </section>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: flex-end;
  margin-top: 8px;
}
.problem {
  color: var(--stop);
}
</style>
