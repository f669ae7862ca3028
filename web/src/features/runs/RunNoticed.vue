<script setup lang="ts">
/** What was noticed of a run that is no figure; said after any run, and changed here. */
import { computed, ref } from 'vue'
import { api, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import TextField from '@/forms/TextField.vue'
import { wordOf, words } from '@/words/words'
import { noticedFields, noticedKept, noticedSaid } from './noticed'
import NoticedFields from './NoticedFields.vue'

const props = defineProps<{
  run: Schemas['RunDetail']
  /** Among other things of the run, without a head of its own. */
  bare?: boolean
}>()
const { mayWrite } = useSession()
const editing = ref(false)
const noticed = ref<Record<string, string>>({})
const note = ref('')
const kept = computed(() => (props.run.noticed ?? {}) as Record<string, unknown>)
const said = computed(() => noticedSaid(kept.value))
function open() {
  noticed.value = noticedFields(kept.value)
  note.value = props.run.note ?? ''
  saving.clear()
  editing.value = true
}
const saving = useWrite('run', (body: Schemas['NoticedRequest']) =>
  api.PUT('/api/v1/runs/{id}/noticed/', { params: { path: { id: props.run.id } }, body }),
)
const problems = computed(() =>
  Object.fromEntries(
    words().noticed.map(({ key }) => [key, fieldMessage(saving.problem.value, `noticed.${key}`)]),
  ),
)
async function save() {
  const done = await saving.send({
    noticed: noticedKept(noticed.value),
    note: note.value,
    version: props.run.version,
  })
  if (done) editing.value = false
}
</script>

<template>
  <section class="sheet" aria-label="Noticed">
    <h2 v-if="!bare">Noticed</h2>
    <el-form v-if="editing" @submit.prevent="save">
      <NoticedFields v-model="noticed" :problems="problems" />
      <TextField v-model="note" label="Note" width="wide" />
      <p v-if="saving.problem.value" class="problem" role="alert">
        {{ sentenceOf(saving.problem.value) }}
      </p>
      <div class="acts">
        <el-button type="primary" native-type="submit" :loading="saving.busy.value"
          >Keep it</el-button
        >
        <el-button @click="editing = false">Leave it</el-button>
      </div>
    </el-form>
    <p v-else>
      <template v-if="run.purpose">Run {{ wordOf('purpose', run.purpose) }}. </template>
      <template v-if="said.length">{{ said.join(' · ') }}. </template>
      <template v-if="run.note">{{ run.note }} </template>
      <span v-if="!said.length && !run.note" class="soft"
        >Nothing was noted of sound, vibration or smell.
      </span>
      <el-button v-if="mayWrite" link @click="open">{{
        said.length || run.note ? 'Change' : 'Note something'
      }}</el-button>
    </p>
    <p v-if="run.overrun_reason" class="over">
      <span class="tag over">beyond a rating</span> {{ run.overrun_reason }}
    </p>
  </section>
</template>

<style scoped>
.acts {
  margin-top: 8px;
}
.over {
  margin: 6px 0 0;
}
.problem {
  color: var(--stop);
}
</style>
