<script setup lang="ts">
/** What the kind of run in hand is asked for, what it commands, and how long that takes. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import SmallCurve from '@/figures/SmallCurve.vue'
import { duration } from '@/figures/format'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import { kindOf, type ProfileDraft, profileFaults, valuesOf } from './profile'

const props = defineProps<{
  course?: Schemas['Course']
  /** What the server said beside a field. */
  said: (name: string) => string
}>()
const draft = defineModel<ProfileDraft>({ required: true })
const kind = computed(() => kindOf(draft.value))
const values = computed(() => valuesOf(draft.value))
const faults = computed(() => profileFaults(draft.value))
const listed = computed(() => kind.value.parameters.filter((one) => one.many))
const single = computed(() => kind.value.parameters.filter((one) => !one.many))
const faultOf = (name: string) => faults.value[name] ?? props.said(name)

function type(name: string, text: string) {
  const typed = { ...values.value, [name]: text }
  draft.value = { ...draft.value, values: { ...draft.value.values, [kind.value.key]: typed } }
}
const headOf = (label: string, unit: string) => (unit ? `${label}, ${unit}` : label)

/** The throttle over time, as it will be commanded at its longest. */
const drawn = computed(() => {
  const x = [0]
  const y = [0]
  let at = 0
  for (const part of props.course?.segments ?? []) {
    x.push(at, at + part.seconds)
    y.push(part.start_pct, part.end_pct)
    at += part.seconds
  }
  return { x, y, end: at }
})
</script>

<template>
  <p class="note">{{ kind.commands }}</p>
  <TextField
    v-for="one in listed"
    :key="one.name"
    :model-value="values[one.name] ?? ''"
    :label="headOf(one.label, one.unit)"
    :problem="faultOf(one.name) && `${faultOf(one.name)}.`"
    @update:model-value="type(one.name, $event)"
  />
  <div class="fields">
    <NumberField
      v-for="one in single"
      :key="one.name"
      :model-value="values[one.name] ?? ''"
      :label="one.label"
      :unit="one.unit"
      :problem="faultOf(one.name)"
      @update:model-value="type(one.name, $event)"
    />
  </div>
  <div v-if="course" class="course">
    <SmallCurve
      :x="drawn.x"
      :y="drawn.y"
      :most="{ x: drawn.end, y: 100 }"
      name="throttle over time"
    />
    <span
      >{{ course.depends ? 'takes at most' : 'takes' }}
      <strong>{{ duration(course.duration_s) }}</strong></span
    >
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 10px;
  align-items: end;
}
.course {
  display: flex;
  align-items: center;
  gap: 14px;
  margin-top: 8px;
  font-size: 13px;
  color: var(--dark-soft);
}
.course strong {
  font-family: var(--digits);
  color: var(--dark-ink);
}
.note {
  font-size: 12.5px;
  color: var(--dark-soft);
  margin: 4px 0 0;
}
</style>
