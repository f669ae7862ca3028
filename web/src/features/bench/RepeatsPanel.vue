<script setup lang="ts">
/** Whether the repeats of the last run agree, and what to do next; R runs it again. */
import { useQuery } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed } from 'vue'
import { repeatsQuery } from '@/api/benchQueries'
import Figure from '@/figures/Figure.vue'
import { decimalsFor, formatNumber } from '@/figures/format'
import { labelOf, unitOf } from '@/words/words'

const props = defineProps<{ uid: string; wanted: number; may: boolean }>()
const emit = defineEmits<{ again: [] }>()
const { data, error } = useQuery(computed(() => repeatsQuery(props.uid, props.wanted)))

const SAID = {
  run: 'Run it again',
  another: 'Run one more',
  enough: 'Run it again all the same',
  look: 'Run it again all the same',
} as const
const TAGS = {
  run: 'go on',
  another: 'one more',
  enough: 'enough',
  look: 'look for the cause',
} as const
const tone = computed(() =>
  data.value?.advice === 'enough' ? 'within' : data.value?.advice === 'look' ? 'over' : 'caution',
)
const agreeWords = (agrees: boolean | null) =>
  agrees === null ? 'one value' : agrees ? 'agree' : 'do not agree'
/** Values of one figure to the places that their scatter has; of one value, those of its u. */
const listed = (values: number[], s: number | null, u: number | null) => {
  const places = Math.min(3, Math.max(0, decimalsFor(s || u || 0)))
  return values.map((value) => formatNumber(value, places)).join(' · ')
}

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const target = event.target as HTMLElement
  if (event.key.toLowerCase() !== 'r' || event.ctrlKey || event.metaKey || event.altKey) return
  if (!props.may || target.closest('input, textarea, [role=combobox]')) return
  event.preventDefault()
  emit('again')
})
</script>

<template>
  <section class="repeats" aria-label="Repeats">
    <p v-if="error" role="alert">Whether the repeats agree could not be read.</p>
    <template v-else-if="data">
      <p class="words">
        <span class="tag" :class="tone">{{ TAGS[data.advice] }}</span> {{ data.words }}
      </p>
      <table v-if="data.rows.length">
        <thead>
          <tr>
            <th scope="col">Figure</th>
            <th scope="col">Values</th>
            <th scope="col">Mean, ± by scatter alone</th>
            <th scope="col">Repeats</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in data.rows" :key="row.name">
            <th scope="row">{{ labelOf(row.name) }}</th>
            <td>{{ listed(row.values, row.s, row.mean.u) }} {{ unitOf(row.name) }}</td>
            <td>
              <Figure
                :value="row.mean.value"
                :u="row.mean.u"
                :assumed="row.mean.assumed"
                :unit="unitOf(row.name)"
              />
            </td>
            <td :class="{ apart: row.agrees === false }">{{ agreeWords(row.agrees) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="may" class="next">
        <el-button
          size="small"
          :type="data.advice === 'run' || data.advice === 'another' ? 'primary' : 'default'"
          @click="emit('again')"
          >{{ SAID[data.advice] }} <kbd>R</kbd></el-button
        >
      </p>
    </template>
    <p v-else class="soft" aria-busy="true">Looking for its repeats…</p>
  </section>
</template>

<style scoped>
.repeats {
  border-top: 1px solid var(--line);
  margin-top: 8px;
  padding-top: 6px;
}
.words {
  margin: 0 0 4px;
}
table {
  width: 100%;
  font-size: 13px;
}
th {
  text-align: left;
  font-weight: 400;
}
thead th {
  color: var(--ink-soft);
  font-size: 12px;
}
.apart {
  color: var(--stop);
  font-weight: 700;
}
.next {
  margin: 6px 0 0;
}
kbd {
  margin-left: 6px;
  font: inherit;
  opacity: 0.75;
}
</style>
