<script setup lang="ts">
/** Every figure that both benches read, load by load. */
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import { unitOf } from '@/words/words'
import { type Held, nameOf, offsetText, outcomeWords } from './offsets'

defineProps<{ held: readonly Held[] }>()
const rests = (one: Schemas['OfBench']) =>
  `${one.samples} ${one.samples === 1 ? 'sample' : 'samples'}, ${one.runs} ${one.runs === 1 ? 'run' : 'runs'}`
</script>

<template>
  <div class="wide">
    <table class="grid">
      <thead>
        <tr>
          <th>Motor, load</th>
          <th>What</th>
          <th class="num">Ours</th>
          <th class="num">Theirs</th>
          <th class="num">Apart</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(one, index) in held" :key="index">
          <td>
            <MotorMark :motor="one.motor" />{{ one.motor_name }}
            <span class="soft small block">{{ one.load }}</span>
          </td>
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
          <td class="num">{{ offsetText(one) }}</td>
          <td>
            {{ outcomeWords(one) }}
            <span v-if="one.one_sample" class="soft small block">the very same motor</span>
          </td>
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
</style>
