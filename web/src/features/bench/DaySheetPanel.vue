<script setup lang="ts">
/** The run sheet that was taken to the bench: what is done, what comes next, one key to set it up. */
import { useQuery } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'
import { daySheetQuery } from '@/api/benchQueries'
import { api, dataOf, sentenceOf, type Schemas } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { duration } from '@/figures/format'

const props = defineProps<{ may: boolean }>()
const emit = defineEmits<{ load: [sample: number, propeller: number, supply: number] }>()
const { data, error } = useQuery(daySheetQuery())
const sheet = computed(() => data.value?.found ?? null)
const all = ref(false)
const runs = computed(() => sheet.value?.steps.filter((step) => step.kind === 'run') ?? [])
const done = computed(() => runs.value.filter((step) => step.done).length)
const at = computed(() => sheet.value?.next ?? null)
const next = computed(() => (at.value === null ? null : (sheet.value?.steps[at.value] ?? null)))
const shown = computed(() =>
  (sheet.value?.steps ?? [])
    .map((step, place) => ({ step, place }))
    .filter(
      ({ place }) => all.value || (at.value !== null && place >= at.value && place < at.value + 3),
    ),
)
const ticking = useWrite('day-sheet', async ({ step, on }: { step: number; on: boolean }) =>
  dataOf(
    await api.POST('/api/v1/day-sheets/{id}/steps/', {
      params: { path: { id: sheet.value?.id ?? 0 } },
      body: { step, done: on },
    }),
  ),
)
const leaving = useWrite('day-sheet', async () =>
  dataOf(
    await api.POST('/api/v1/day-sheets/{id}/put-away/', {
      params: { path: { id: sheet.value?.id ?? 0 } },
      body: { version: sheet.value?.version ?? 0 },
    }),
  ),
)
const words = (step: Schemas['DayStep']) =>
  step.kind === 'run' ? `${step.words}: ${step.motor_name} on ${step.propeller_name}` : step.words
/** What comes next: a run is set up, everything else is done by hand and ticked. */
function goOn() {
  if (!props.may || !sheet.value || at.value === null || !next.value || ticking.busy.value) return
  if (next.value.kind === 'run')
    emit('load', next.value.sample, next.value.propeller, sheet.value.supply)
  else void ticking.send({ step: at.value, on: true })
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const target = event.target as HTMLElement
  if (event.key.toLowerCase() !== 'n' || event.ctrlKey || event.metaKey || event.altKey) return
  if (target.closest('input, textarea, [role=combobox], [role=dialog]')) return
  goOn()
})
</script>

<template>
  <p v-if="error" role="alert" class="fault">{{ sentenceOf(error) }}</p>
  <section v-else-if="sheet" class="day-sheet" aria-labelledby="day-sheet">
    <h2 id="day-sheet">Run sheet</h2>
    <p class="soft">
      <RouterLink :to="`/plan?campaign=${sheet.campaign}&supply=${sheet.supply}`">{{
        sheet.title
      }}</RouterLink>
      on {{ sheet.supply_name }}: {{ done }} of {{ runs.length }} runs done
    </p>
    <ol>
      <li
        v-for="{ step, place } in shown"
        :key="place"
        :class="{ done: step.done, next: place === at }"
      >
        <label>
          <input
            type="checkbox"
            :checked="step.done"
            :disabled="!may || ticking.busy.value"
            :aria-label="`Done: ${words(step)}`"
            @change="ticking.send({ step: place, on: ($event.target as HTMLInputElement).checked })"
          />
          <span
            >{{ words(step) }} <span class="soft">{{ duration(60 * step.minutes) }}</span></span
          >
        </label>
      </li>
    </ol>
    <p v-if="at === null" role="status">Everything on it is done.</p>
    <p v-if="ticking.problem.value || leaving.problem.value" role="alert" class="fault">
      {{ sentenceOf(ticking.problem.value ?? leaving.problem.value) }}
    </p>
    <p class="acts">
      <el-button v-if="next && may" size="small" @click="goOn"
        >{{ next.kind === 'run' ? 'Set it up' : 'Done, next' }} <kbd>N</kbd></el-button
      >
      <el-button size="small" text :aria-expanded="all" @click="all = !all">{{
        all ? 'Only what is next' : `All ${sheet.steps.length} steps`
      }}</el-button>
      <el-button v-if="may" size="small" text :loading="leaving.busy.value" @click="leaving.send()"
        >Put it away</el-button
      >
    </p>
  </section>
</template>

<style scoped>
.day-sheet {
  border-left: 4px solid var(--dark-copper);
  padding-left: 10px;
  margin: 6px 0 12px;
}
a {
  color: var(--dark-copper-light);
}
input {
  accent-color: var(--dark-copper);
}
h2 {
  font-size: 14px;
  margin: 0;
}
p {
  margin: 2px 0;
  font-size: 13px;
}
.soft {
  color: var(--dark-soft);
}
ol {
  list-style: none;
  margin: 4px 0;
  padding: 0;
  max-height: 240px;
  overflow: auto;
}
li label {
  display: flex;
  gap: 8px;
  align-items: baseline;
  font-size: 13px;
  padding: 2px 0;
}
li.next span {
  font-weight: 700;
}
li.done span {
  color: var(--dark-soft);
}
.fault {
  color: var(--dark-caution);
}
kbd {
  margin-left: 6px;
  font: inherit;
  opacity: 0.75;
}
</style>
