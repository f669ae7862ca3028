<script setup lang="ts">
/** The compared runs and the baseline; more are added from a list of what is left. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import MotorMark from '@/figures/MotorMark.vue'
import type { Mark } from '@/figures/motorMark'

const props = defineProps<{ runs: Schemas['Run'][]; marks: Mark[] }>()
const chosen = defineModel<number[]>('chosen', { required: true })
const baseline = defineModel<number | null>('baseline', { required: true })

const rows = computed(() =>
  chosen.value.flatMap((id) => props.runs.find((run) => run.id === id) ?? []),
)
const left = computed(() =>
  props.runs.filter((run) => run.comparable && !chosen.value.includes(run.id)),
)
const base = computed(() => baseline.value ?? chosen.value[0])

function add(event: Event) {
  const select = event.target as HTMLSelectElement
  if (select.value) chosen.value = [...chosen.value, Number(select.value)]
  select.value = ''
}
</script>

<template>
  <section class="sheet picker" aria-label="Compared runs">
    <div v-for="(run, index) in rows" :key="run.id" class="run">
      <MotorMark :motor="run.motor" :mark="marks[index]" />
      <span class="name">
        <RouterLink :to="`/runs/${run.id}`">#{{ run.id }}</RouterLink>
        {{ run.motor_name }} {{ run.sample_mark }} · {{ run.propeller_name }} ·
        {{ run.supply_name || 'supply not noted' }}
      </span>
      <label
        ><input
          type="radio"
          name="baseline"
          :checked="run.id === base"
          @change="baseline = run.id"
        />
        baseline</label
      >
      <button type="button" @click="chosen = chosen.filter((id) => id !== run.id)">
        Leave out<span class="visually-hidden"> run {{ run.id }}</span>
      </button>
    </div>
    <select aria-label="Add a run" :disabled="chosen.length >= 8" @change="add">
      <option value="">add a run…</option>
      <option v-for="run in left" :key="run.id" :value="run.id">
        #{{ run.id }} {{ run.motor_name }} {{ run.sample_mark }} · {{ run.propeller_name }} ·
        {{ run.supply_name }}
      </option>
    </select>
  </section>
</template>

<style scoped>
.picker {
  margin-top: 12px;
  padding: 8px 16px;
}
.run {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 3px 0;
}
.name {
  flex: 1;
}
.run button {
  border: 0;
  background: none;
  text-decoration: underline;
  cursor: pointer;
  color: var(--ink-soft);
  min-height: 26px;
}
select {
  height: 30px;
  margin-top: 4px;
  max-width: 100%;
  border: 1px solid var(--el-border-color);
  border-radius: 3px;
  background: var(--el-fill-color-blank);
}
input {
  accent-color: var(--copper);
}
</style>
