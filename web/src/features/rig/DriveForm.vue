<script setup lang="ts">
/**
 * A supply, a pack or an ESC: a form to add one or to change one. What nobody knows stays empty.
 */
import { computed, reactive } from 'vue'
import { fieldMessage, sentenceOf } from '@/api/client'
import MergeView from '@/merging/MergeView.vue'
import { useFactForm } from '@/merging/useFactForm'
import ChoiceField from '@/forms/ChoiceField.vue'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import type { Field, Row, Typed } from './facts'

const props = defineProps<{
  /** What it is, for the drafts that outlive a reload: "supply", "esc". */
  what: string
  fields: readonly Field[]
  /** What stands there; undefined for a new one. */
  row?: Row
  write: (typed: Typed, version: number | null) => Promise<number>
}>()
const emit = defineEmits<{ done: [] }>()
const empty = computed(() =>
  Object.fromEntries(props.fields.map((field) => [field.key, field.usual ?? ''])),
)
const form = useFactForm<Typed>({
  key: () => `${props.what}-${props.row?.id ?? 'new'}`,
  stored: () =>
    props.row
      ? {
          version: props.row.version,
          values: Object.fromEntries(
            props.fields.map((field) => [field.key, field.read(props.row ?? null)]),
          ),
        }
      : { version: 0, values: empty.value },
  write: async (values, version) => {
    const now = await props.write(values, props.row ? version : null)
    if (!props.row) form.drop()
    emit('done')
    return now
  },
})
const wrong = reactive<Record<string, string>>({})
const shown = computed(() =>
  props.fields.filter((field) => !field.when || field.when(form.form.value)),
)
const said = (field: Field) =>
  wrong[field.key] || fieldMessage(form.problem.value, field.kept ?? field.key)
/** What belongs to no field that is shown is said below. */
const rest = computed(() => {
  const problem = form.problem.value
  return problem && !shown.value.some(said) ? sentenceOf(problem) : ''
})
async function keep() {
  for (const field of props.fields) Reflect.deleteProperty(wrong, field.key)
  for (const field of shown.value) {
    const fault = field.fault?.(form.form.value[field.key] ?? '')
    if (fault) wrong[field.key] = fault
  }
  if (!Object.keys(wrong).length) await form.save()
}
const set = (key: string, value: string | null) => (form.form.value[key] = value ?? '')
const labels = computed(() =>
  Object.fromEntries(props.fields.map((field) => [field.kept ?? field.key, field.label])),
)
</script>

<template>
  <el-form class="drive" @submit.prevent="keep">
    <template v-for="field in shown" :key="field.key">
      <ChoiceField
        v-if="field.choices"
        :model-value="form.form.value[field.key] ?? ''"
        :label="field.label"
        :choices="field.choices()"
        :width="field.width"
        :disabled="Boolean(row && field.fixed)"
        :problem="said(field)"
        @update:model-value="set(field.key, $event)"
      />
      <NumberField
        v-else-if="field.number"
        :model-value="form.form.value[field.key] ?? ''"
        :label="field.label"
        :unit="field.unit"
        :problem="said(field)"
        :width="field.width"
        placeholder="unknown"
        @update:model-value="set(field.key, $event)"
      />
      <TextField
        v-else
        :model-value="form.form.value[field.key] ?? ''"
        :label="field.label"
        :problem="said(field)"
        :width="field.width"
        @update:model-value="set(field.key, $event)"
      />
    </template>
    <span class="ends">
      <el-button
        type="primary"
        native-type="submit"
        :disabled="!form.dirty.value"
        :loading="form.busy.value"
        >{{ row ? 'Keep' : 'Add' }}</el-button
      >
      <el-button v-if="row && form.dirty.value" @click="form.drop()">As it was</el-button>
      <slot />
    </span>
  </el-form>
  <p v-if="rest" class="problem" role="alert">{{ rest }}</p>
  <MergeView
    v-if="form.conflict.value"
    :base="form.base.value"
    :mine="form.form.value"
    :current="form.conflict.value"
    :labels="labels"
    @settle="(values, version) => form.save(values as Typed, version)"
    @drop="form.drop"
  />
</template>

<style scoped>
.drive {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: flex-end;
  margin-top: 8px;
}
.ends {
  display: flex;
  gap: 8px;
}
.problem {
  color: var(--stop);
  margin-top: 8px;
}
</style>
