<script setup lang="ts">
/** Comparisons by name: one is opened, the one at hand is kept, with its marks. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, fieldMessage, sentenceOf } from '@/api/client'
import { savedComparisonsQuery } from '@/api/compareQueries'
import type { Schemas } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import TextField from '@/forms/TextField.vue'
import type { ChartMark } from './curves'

type Saved = Schemas['SavedComparison']
const props = defineProps<{
  open: number | null
  asked: Record<string, string>
  marks: ChartMark[]
  mayWrite: boolean
}>()
const emit = defineEmits<{ open: [saved: Saved | null] }>()
const { data: kept } = useQuery(savedComparisonsQuery())
const now = computed(() => kept.value?.find((one) => one.id === props.open) ?? null)
const asking = ref(false)
const name = ref('')
const note = ref('')
const keeping = useWrite('comparison', () =>
  api.POST('/api/v1/compare/saved/', {
    body: { name: name.value, asked: props.asked, marks: props.marks, note: note.value },
  }),
)
const changing = useWrite('comparison', (saved: Saved) =>
  api.PATCH('/api/v1/compare/saved/{id}/', {
    params: { path: { id: saved.id } },
    body: { name: saved.name, asked: props.asked, marks: props.marks, version: saved.version },
  }),
)
const dropping = useWrite('comparison', (saved: Saved) =>
  api.DELETE('/api/v1/compare/saved/{id}/', {
    params: { path: { id: saved.id }, query: { version: saved.version } },
  }),
)
const said = ref('')
watch(
  () => [props.asked, props.marks],
  () => (said.value = ''),
)
async function keep() {
  const answer = await keeping.send()
  if (!answer?.data) return
  asking.value = false
  said.value = `Kept as ${answer.data.name}.`
  emit('open', answer.data)
}
async function change() {
  if (!now.value) return
  const answer = await changing.send(now.value)
  said.value = answer?.data ? 'Kept.' : sentenceOf(changing.problem.value)
}
async function drop() {
  if (!now.value) return
  const gone = await dropping.send(now.value)
  if (gone) emit('open', null)
  else said.value = sentenceOf(dropping.problem.value)
}
</script>

<template>
  <el-select
    :model-value="open ?? undefined"
    size="small"
    filterable
    clearable
    default-first-option
    placeholder="kept comparisons"
    aria-label="Kept comparisons"
    class="kept"
    no-data-text="None is kept yet"
    @update:model-value="emit('open', kept?.find((one) => one.id === $event) ?? null)"
  >
    <el-option v-for="one in kept" :key="one.id" :value="one.id" :label="one.name" />
  </el-select>
  <template v-if="mayWrite">
    <el-button v-if="now" size="small" @click="change">Keep the changes</el-button>
    <el-button v-if="now" size="small" text @click="drop">Forget it</el-button>
    <el-button size="small" @click="((asking = true), keeping.clear())"
      >Keep under a name</el-button
    >
  </template>
  <span v-if="said" role="status" class="small">{{ said }}</span>
  <el-dialog
    v-model="asking"
    title="Keep this comparison"
    width="420"
    modal-class="below-strip"
    append-to-body
  >
    <el-form label-position="top" @submit.prevent="keep">
      <TextField
        v-model="name"
        label="Name"
        :maxlength="120"
        :problem="fieldMessage(keeping.problem.value, 'name')"
      />
      <TextField v-model="note" label="A note, if any" :maxlength="2000" />
      <p class="small soft">
        What is compared, under which condition, and {{ marks.length }} mark{{
          marks.length === 1 ? '' : 's'
        }}
        on its charts. Its figures are read anew each time.
      </p>
      <p
        v-if="keeping.problem.value && !fieldMessage(keeping.problem.value, 'name')"
        role="alert"
        class="fault"
      >
        {{ sentenceOf(keeping.problem.value) }}
      </p>
      <el-button type="primary" native-type="submit" :loading="keeping.busy.value"
        >Keep it</el-button
      >
    </el-form>
  </el-dialog>
  <p v-if="now?.note" class="note small">{{ now.note }}</p>
</template>

<style scoped>
.kept {
  width: 190px;
}
.note {
  flex-basis: 100%;
  margin: 0;
}
.fault {
  color: var(--stop);
}
</style>
