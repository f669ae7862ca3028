<script setup lang="ts">
/** A sequence kept by name: its parts in their order, the one in hand, the next by M. */
import { useQuery } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed, ref, useId } from 'vue'
import { savedProfilesQuery, savedSequencesQuery } from '@/api/benchQueries'
import { api, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import ChoiceField from '@/forms/ChoiceField.vue'
import FieldRow from '@/forms/FieldRow.vue'
import TextField from '@/forms/TextField.vue'
import { runKind } from '@/words/words'
import { sameProfile, profileBody, textsOf } from './profile'
import type { BenchDraft } from './setup'

const props = defineProps<{ disabled: boolean }>()
const draft = defineModel<BenchDraft>({ required: true })
const { data } = useQuery(savedSequencesQuery())
const { data: profiles } = useQuery(savedProfilesQuery())
const chosen = computed(
  () => data.value?.find((one) => one.id === draft.value.sequence?.id) ?? null,
)
const at = computed(() => draft.value.sequence?.at ?? 0)
const last = computed(() => chosen.value !== null && at.value >= chosen.value.parts.length - 1)
/** Whether the part in hand is what is set up; a changed number is another run. */
const asKept = computed(() => {
  const part = chosen.value?.parts[at.value]
  return part ? sameProfile(part, profileBody(draft.value)) : false
})
const choices = computed(() => [
  { key: 0, label: 'none' },
  ...(data.value ?? []).map((one) => ({ key: one.id, label: one.name })),
])
const nameOf = (part: Schemas['Profile']) =>
  profiles.value?.find((one) => sameProfile(part, one.profile as Schemas['ProfileRequest']))
    ?.name ??
  runKind(part.kind ?? 'steps')?.label ??
  ''

function setUp(id: number, place: number) {
  const found = data.value?.find((one) => one.id === id)
  const part = found?.parts[place]
  if (!part) {
    draft.value = { ...draft.value, sequence: null }
    return
  }
  const kind = part.kind ?? 'steps'
  const values = { ...draft.value.values, [kind]: textsOf(part) }
  draft.value = { ...draft.value, kind, values, sequence: { id, at: place } }
}
function goOn() {
  if (props.disabled || !chosen.value || last.value) return
  setUp(chosen.value.id, at.value + 1)
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const target = event.target as HTMLElement
  if (event.key.toLowerCase() !== 'm' || event.ctrlKey || event.metaKey || event.altKey) return
  if (target.closest('input, textarea, [role=combobox], [role=dialog]')) return
  goOn()
})

const making = ref(false)
const name = ref('')
const purpose = ref('')
const picked = ref<number[]>([])
const field = useId()
const saving = useWrite('profile', (body: Schemas['NewSavedSequenceRequest']) =>
  api.POST('/api/v1/bench/sequences/', { body }),
)
const dropping = useWrite('profile', (one: Schemas['SavedSequence']) =>
  api.DELETE('/api/v1/bench/sequences/{id}/', {
    params: { path: { id: one.id }, query: { version: one.version } },
  }),
)
async function keep() {
  const parts = picked.value.flatMap((id) => {
    const found = profiles.value?.find((one) => one.id === id)
    return found ? [found.profile as Schemas['ProfileRequest']] : []
  })
  const sent = { name: name.value, purpose: purpose.value, parts }
  if ((await saving.send(sent)) === undefined) return
  making.value = false
  name.value = purpose.value = ''
  picked.value = []
}
async function drop() {
  if (!chosen.value) return
  if ((await dropping.send(chosen.value)) !== undefined)
    draft.value = { ...draft.value, sequence: null }
}
const said = (key: string) => fieldMessage(saving.problem.value, key)
</script>

<template>
  <ChoiceField
    v-if="data?.length"
    id="sequence"
    :model-value="chosen?.id ?? 0"
    label="Sequence"
    :choices="choices"
    :disabled="disabled"
    @update:model-value="setUp($event ?? 0, 0)"
  />
  <template v-if="chosen">
    <p v-if="chosen.purpose" class="note">For {{ chosen.purpose }}.</p>
    <ol>
      <li v-for="(part, place) in chosen.parts" :key="place" :class="{ now: place === at }">
        <el-button
          text
          size="small"
          :disabled="disabled"
          :aria-current="place === at ? 'step' : undefined"
          @click="setUp(chosen.id, place)"
          >{{ nameOf(part) }}</el-button
        >
        <span v-if="place === at && !asKept" class="note">changed</span>
      </li>
    </ol>
    <el-button v-if="!disabled && !last" size="small" @click="goOn"
      >Next part <kbd>M</kbd></el-button
    >
    <el-button v-if="!disabled" size="small" text :loading="dropping.busy.value" @click="drop"
      >Drop “{{ chosen.name }}”</el-button
    >
  </template>
  <template v-else-if="!disabled && (profiles?.length ?? 0) > 1">
    <el-button v-if="!making" size="small" text @click="making = true"
      >Make a sequence of saved profiles…</el-button
    >
    <div v-else class="keep">
      <FieldRow :for="field" label="Parts, in their order" :problem="said('parts')">
        <el-select :id="field" v-model="picked" multiple filterable placeholder="two or more">
          <el-option v-for="one in profiles" :key="one.id" :value="one.id" :label="one.name" />
        </el-select>
      </FieldRow>
      <TextField v-model="name" label="Name of the sequence" :problem="said('name')" />
      <TextField v-model="purpose" label="What the sequence is for" />
      <el-button
        size="small"
        type="primary"
        :disabled="picked.length < 2 || !name.trim()"
        :loading="saving.busy.value"
        @click="keep"
        >Keep the sequence</el-button
      >
      <el-button size="small" text @click="making = false">Cancel</el-button>
    </div>
  </template>
  <p
    v-if="(saving.problem.value && !said('name') && !said('parts')) || dropping.problem.value"
    role="alert"
    class="problem"
  >
    {{ sentenceOf(saving.problem.value ?? dropping.problem.value) }}
  </p>
</template>

<style scoped>
.note {
  font-size: 12.5px;
  color: var(--dark-soft);
  margin: 4px 0 0;
}
ol {
  margin: 4px 0;
  padding-left: 20px;
  font-size: 13px;
}
li.now {
  font-weight: 700;
}
.keep {
  border-left: 3px solid var(--dark-line);
  padding-left: 10px;
  margin-top: 6px;
}
.keep .el-select {
  width: 100%;
}
kbd {
  margin-left: 6px;
  font: inherit;
  opacity: 0.75;
}
.problem {
  color: var(--dark-over);
}
</style>
