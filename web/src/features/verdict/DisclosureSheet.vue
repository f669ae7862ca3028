<script setup lang="ts">
/** Who paid for what. While any of it is unsaid nothing is published. */
import { api, dataOf, fieldMessage, sentenceOf } from '@/api/client'
import type { Schemas } from '@/api/client'
import ChoiceField from '@/forms/ChoiceField.vue'
import TextField from '@/forms/TextField.vue'
import MergeView from '@/merging/MergeView.vue'
import { useFactForm } from '@/merging/useFactForm'

const props = defineProps<{ verdict: Schemas['Verdict']; mayWrite: boolean }>()
const emit = defineEmits<{ kept: [verdict: Schemas['Verdict']] }>()
type Form = Pick<Schemas['Verdict'], 'links' | 'links_text' | 'gains' | 'gains_text'>
const LINKS = [
  { key: 'unknown', label: 'not said yet' },
  { key: 'none', label: 'no link pays' },
  { key: 'some', label: 'some links pay' },
] as const
const GAINS = [
  { key: 'unknown', label: 'not said yet' },
  { key: 'nobody', label: 'nobody gains' },
  { key: 'somebody', label: 'somebody may gain' },
] as const
const valuesOf = (one: Schemas['Verdict']): Form => ({
  links: one.links,
  links_text: one.links_text,
  gains: one.gains,
  gains_text: one.gains_text,
})
const { form, base, dirty, problem, conflict, busy, saved, save, drop } = useFactForm<Form>({
  key: () => `verdict-disclosure/${props.verdict.id}`,
  stored: () => ({ values: valuesOf(props.verdict), version: props.verdict.version }),
  write: async (values, version) => {
    const now = dataOf(
      await api.PATCH('/api/v1/verdicts/{id}/', {
        params: { path: { id: props.verdict.id } },
        body: { ...values, version },
      }),
    )
    emit('kept', now)
    return now.version
  },
})
</script>

<template>
  <section class="sheet" aria-labelledby="disclosure">
    <h2 id="disclosure">Disclosure</h2>
    <p v-if="verdict.disclosure.matters" class="matters">
      A reader wants to know this first: it stands at the top of the page.
    </p>
    <ul v-if="verdict.disclosure.lines.length" class="lines">
      <li v-for="line in verdict.disclosure.lines" :key="line">{{ line }}</li>
    </ul>
    <ul v-if="verdict.disclosure.missing.length" class="missing">
      <li v-for="one in verdict.disclosure.missing" :key="one">Not said: {{ one }}.</li>
    </ul>
    <p class="soft small">
      How each sample came is noted with its parcel<template v-if="verdict.motor">
        (<RouterLink :to="`/intake/${verdict.motor}/parcel`">Intake, the parcel</RouterLink
        >)</template
      >. Whoever is held against it is disclosed too.
    </p>
    <el-form v-if="mayWrite" label-position="top" class="form" @submit.prevent="save()">
      <ChoiceField v-model="form.links" label="Links on the page" :choices="LINKS" />
      <TextField
        v-if="form.links === 'some'"
        v-model="form.links_text"
        label="Which links pay, and whom"
        :maxlength="400"
        width="wide"
        :problem="fieldMessage(problem, 'links_text')"
      />
      <ChoiceField v-model="form.gains" label="From how it turns out" :choices="GAINS" />
      <TextField
        v-if="form.gains === 'somebody'"
        v-model="form.gains_text"
        label="Who gains, and how"
        :maxlength="400"
        width="wide"
        :problem="fieldMessage(problem, 'gains_text')"
      />
      <div class="row">
        <el-button type="primary" native-type="submit" :disabled="!dirty" :loading="busy"
          >Keep</el-button
        >
        <span v-if="saved" role="status" class="soft small">Kept.</span>
      </div>
      <p v-if="problem" class="fault" role="alert">{{ sentenceOf(problem) }}</p>
    </el-form>
    <MergeView
      v-if="conflict"
      :base="base"
      :mine="form"
      :current="conflict"
      @settle="(values, version) => save(values as Form, version)"
      @drop="drop()"
    />
  </section>
</template>

<style scoped>
.lines,
.missing {
  margin: 0 0 6px;
  padding-left: 18px;
}
.missing {
  color: var(--caution);
}
.matters {
  margin: 0 0 6px;
  padding: 4px 8px;
  background: var(--caution-soft);
}
.form {
  max-width: 560px;
}
.row {
  display: flex;
  gap: 10px;
  align-items: center;
}
.fault {
  color: var(--stop);
}
</style>
