<script setup lang="ts">
/** Profiles kept by name: take one, keep the one that is typed, drop one. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { savedProfilesQuery } from '@/api/benchQueries'
import { api, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import ChoiceField from '@/forms/ChoiceField.vue'
import TextField from '@/forms/TextField.vue'
import { runKind } from '@/words/words'
import { profileBody, type ProfileDraft, sameProfile, textsOf } from './profile'

defineProps<{ disabled: boolean }>()
const draft = defineModel<ProfileDraft>({ required: true })
const { data } = useQuery(savedProfilesQuery())
const keeping = ref(false)
const name = ref('')
const purpose = ref('')
const body = computed(() => profileBody(draft.value))
/** The saved one that is set up now; none as soon as a number differs. */
const chosen = computed(
  () => data.value?.find((one) => sameProfile(one.profile, body.value)) ?? null,
)
const choices = computed(() =>
  (data.value ?? []).map((one) => ({
    key: one.id,
    label: `${one.name} (${(runKind(one.profile.kind ?? '')?.label ?? '').toLowerCase()})`,
  })),
)

function take(id: number | null) {
  const found = data.value?.find((one) => one.id === id)
  if (!found) return
  const kind = found.profile.kind ?? 'steps'
  const values = { ...draft.value.values, [kind]: textsOf(found.profile) }
  draft.value = { ...draft.value, kind, values }
}

const saving = useWrite('profile', (sent: Schemas['NewSavedProfileRequest']) =>
  api.POST('/api/v1/bench/profiles/', { body: sent }),
)
const dropping = useWrite('profile', (one: Schemas['SavedProfile']) =>
  api.DELETE('/api/v1/bench/profiles/{id}/', {
    params: { path: { id: one.id }, query: { version: one.version } },
  }),
)
async function keep() {
  if (!body.value || !name.value.trim()) return
  const sent = { name: name.value, purpose: purpose.value, profile: body.value }
  if ((await saving.send(sent)) === undefined) return
  keeping.value = false
  name.value = purpose.value = ''
}
const said = (field: string) => fieldMessage(saving.problem.value, field)
</script>

<template>
  <ChoiceField
    v-if="choices.length"
    id="saved-profile"
    :model-value="chosen?.id ?? null"
    label="Saved profile"
    placeholder="none of them"
    :choices="choices"
    @update:model-value="take"
  />
  <p v-if="chosen" class="note">
    <template v-if="chosen.purpose">For {{ chosen.purpose }}.</template>
    {{ chosen.made_by_name ? `By ${chosen.made_by_name}.` : '' }}
    <el-button v-if="!disabled" size="small" text @click="dropping.send(chosen)"
      >Drop “{{ chosen.name }}”</el-button
    >
  </p>
  <template v-if="!disabled && !chosen">
    <el-button v-if="!keeping" size="small" text :disabled="!body" @click="keeping = true"
      >Keep this profile by name…</el-button
    >
    <div v-else class="keep">
      <TextField v-model="name" label="Name of the profile" :problem="said('name')" />
      <TextField v-model="purpose" label="What it is for" />
      <el-button size="small" type="primary" :disabled="!body || !name.trim()" @click="keep"
        >Keep it</el-button
      >
      <el-button size="small" text @click="keeping = false">Cancel</el-button>
    </div>
  </template>
  <p v-if="saving.problem.value && !said('name')" role="alert" class="problem">
    {{ sentenceOf(saving.problem.value) }}
  </p>
  <p v-if="dropping.problem.value" role="alert" class="problem">
    {{ sentenceOf(dropping.problem.value) }}
  </p>
</template>

<style scoped>
.note {
  font-size: 12.5px;
  color: var(--dark-soft);
  margin: 4px 0 0;
}
.keep {
  border-left: 3px solid var(--dark-line);
  padding-left: 10px;
  margin-top: 6px;
}
.problem {
  color: var(--dark-over);
}
</style>
