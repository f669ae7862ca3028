<script setup lang="ts">
/** Every figure that both benches read, load by load. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import { unitOf } from '@/words/words'
import { type Held, nameOf, offsetText, outcomeWords } from './offsets'

const props = defineProps<{ held: readonly Held[] }>()
const groups = computed(() => {
  const found = new Map<string, { motor: number; motor_name: string; load: string; held: Held[] }>()
  for (const one of props.held) {
    const key = `${one.motor}/${one.load}`
    const { motor, motor_name, load } = one
    const group = found.get(key) ?? { motor, motor_name, load, held: [] }
    group.held.push(one)
    found.set(key, group)
  }
  return [...found.values()]
})
const rests = (one: Schemas['OfBench']) =>
  `${one.samples} ${one.samples === 1 ? 'sample' : 'samples'}, ${one.runs} ${one.runs === 1 ? 'run' : 'runs'}`
</script>

<template>
  <div class="wide">
    <table class="grid">
      <thead>
        <tr>
          <th>What</th>
          <th class="num">Ours</th>
          <th class="num">Theirs</th>
          <th class="num">Apart</th>
          <th></th>
        </tr>
      </thead>
      <tbody v-for="group in groups" :key="`${group.motor}/${group.load}`">
        <tr class="load">
          <th colspan="5" scope="rowgroup">
            <MotorMark :motor="group.motor" />{{ group.motor_name }}, {{ group.load }}
            <span v-if="group.held[0]?.one_sample" class="soft">the very same motor on both</span>
          </th>
        </tr>
        <tr v-for="one in group.held" :key="`${one.condition}/${one.name}`">
          <td>{{ nameOf(one) }}</td>
          <td class="num">
            <Figure
              :value="one.ours.figure.value"
              :u="one.ours.figure.u"
              :unit="unitOf(one.name)"
              :assumed="one.ours.figure.assumed"
            />
            <span class="soft small block">{{ rests(one.ours) }}</span>
          </td>
          <td class="num">
            <Figure
              :value="one.theirs.figure.value"
              :u="one.theirs.figure.u"
              :unit="unitOf(one.name)"
              :assumed="one.theirs.figure.assumed"
            />
            <span class="soft small block">{{ rests(one.theirs) }}</span>
          </td>
          <td class="num apart">{{ offsetText(one) }}</td>
          <td>{{ outcomeWords(one) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
.wide table {
  width: 100%;
}
.block {
  display: block;
}
td {
  vertical-align: top;
}
.load th {
  padding-top: 12px;
  text-align: left;
  font-weight: 700;
  color: var(--ink);
}
.apart {
  white-space: nowrap;
}
</style>
