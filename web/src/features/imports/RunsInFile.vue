<script setup lang="ts">
/** The runs that a file holds as it is read now: what each gives, and what is wrong with it. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { labelOf, runKind, unitOf } from '@/words/words'
import { count } from '@/figures/format'

const props = defineProps<{
  runs: readonly Schemas['OpenedRun'][]
  /** Only the beginning was looked at. */
  large?: boolean
}>()
const BEGINNING = 'its beginning was looked at; the rest is read while it is stored'
const figures = computed(() => [...new Set(props.runs.flatMap((run) => Object.keys(run.best)))])
const rounded = (value: number | undefined) =>
  value === undefined ? null : Number(value.toPrecision(4))
</script>

<template>
  <table class="grid">
    <thead>
      <tr>
        <th></th>
        <th>Kind</th>
        <th class="num">Rows</th>
        <th class="num">Lasts</th>
        <th class="num">Points</th>
        <th v-for="name in figures" :key="name" class="num">{{ labelOf(name) }}</th>
        <th>Says</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(run, at) in runs" :key="at">
        <td class="soft">{{ at + 1 }}</td>
        <td>{{ runKind(run.kind)?.label ?? run.kind }}</td>
        <td class="num">{{ large ? 'about ' : '' }}{{ count(run.row_count) }}</td>
        <td class="num">
          <Figure
            :value="run.duration_s === null ? null : Number(run.duration_s.toFixed(1))"
            unit="s"
            :reason="large ? BEGINNING : 'points have an order and no time'"
          />
        </td>
        <td class="num" :data-reason="large ? BEGINNING : undefined">{{ run.points ?? '—' }}</td>
        <td v-for="name in figures" :key="name" class="num">
          <Figure :value="rounded(run.best[name])" :unit="unitOf(name)" reason="not in this run" />
        </td>
        <td class="small">
          <span v-if="large" class="soft">{{ BEGINNING }}</span>
          <span v-else-if="run.problem"
            ><span class="tag over">no figures</span> {{ run.problem }}</span
          >
          <span v-else-if="run.warnings.length" :title="run.warnings.join(' ')"
            >{{ run.warnings[0]
            }}{{ run.warnings.length > 1 ? ` (+${run.warnings.length - 1})` : '' }}</span
          >
          <span v-else class="soft">nothing odd</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>
