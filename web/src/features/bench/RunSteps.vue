<script setup lang="ts">
/** What the run in hand does one after the other, and what was expected of it. */
import { computed, nextTick, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { formatNumber } from '@/figures/format'
import { labelOf, unitOf } from '@/words/words'

const props = defineProps<{ frame: Schemas['Frame'] | null }>()
const steps = computed(() => props.frame?.progress.steps ?? [])
const step = computed(() => props.frame?.progress.step ?? 0)
/** What the guard foresees of the next rise of the throttle. */
const next = computed(() => props.frame?.progress.next ?? null)
const SHOWN = ['current_a', 'thrust_gf', 'motor_temp_c']
const nextFigures = computed(() => next.value?.figures.filter((f) => SHOWN.includes(f.name)) ?? [])
const list = ref<HTMLOListElement | null>(null)
// A long list follows the run; what is done and what comes next stay in sight.
watch(step, () =>
  nextTick(() =>
    list.value
      ?.querySelector('[aria-current]')
      ?.scrollIntoView({ block: 'nearest', behavior: 'auto' }),
  ),
)
</script>

<template>
  <ol v-if="steps.length" ref="list" aria-label="Steps of the run">
    <li
      v-for="(label, i) in steps"
      :key="i"
      :class="{ done: i < step, now: i === step }"
      :aria-current="i === step ? 'step' : undefined"
    >
      <span class="tick" aria-hidden="true">{{ i < step ? '✓' : i === step ? '▸' : '' }}</span>{{
        label
      }}
    </li>
  </ol>
  <dl v-if="next" aria-label="Next step">
    <dt class="head">Next, {{ formatNumber(next.throttle_pct, 0) }} %</dt>
    <dd />
    <template v-for="one in nextFigures" :key="one.name">
      <dt>{{ labelOf(one.name) }}</dt>
      <dd><Figure estimated :value="one.value" :u="one.u" :unit="unitOf(one.name)" /></dd>
    </template>
  </dl>
  <dl v-if="frame?.expected.length" aria-label="Expected">
    <template v-for="one in frame.expected" :key="one.name">
      <dt>{{ labelOf(one.name) }}, expected</dt>
      <dd><Figure estimated :value="one.value" :u="one.u" :unit="unitOf(one.name)" /></dd>
    </template>
  </dl>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 14px 0 0;
  padding: 0;
  max-height: 330px;
  overflow-y: auto;
  font-size: 17px;
}
li {
  padding: 4px 0;
  color: var(--dark-soft);
}
.now {
  color: var(--dark-ink);
  font-weight: 700;
}
.done {
  color: var(--dark-soft);
}
.tick {
  display: inline-block;
  width: 24px;
  color: var(--dark-copper-light);
}
dl {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 6px 12px;
  margin: 16px 0 0;
  font-size: 15px;
}
dt {
  color: var(--dark-soft);
}
dd {
  margin: 0;
}
.head {
  color: var(--dark-ink);
  font-weight: 700;
}
</style>
