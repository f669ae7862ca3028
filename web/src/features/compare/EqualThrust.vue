<script setup lang="ts">
/** The table at equal thrust, at thrusts that can be chosen, and where curves cross. */
import { ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { Mark } from '@/figures/motorMark'
import ComparisonTable from './ComparisonTable.vue'
import { numbersIn } from './numbersIn'

defineProps<{ comparison: Schemas['Comparison']; marks: Mark[] }>()
const thrusts = defineModel<number[]>('thrusts', { required: true })
const typed = ref('')
function setThrusts() {
  thrusts.value = numbersIn(typed.value.replaceAll(/[\s;]+/g, ','))
}
</script>

<template>
  <section class="sheet">
    <header class="head">
      <h2>At equal thrust</h2>
      <span class="soft small"
        >difference to the baseline with its standard uncertainty; a click into the right chart adds
        a thrust</span
      >
      <el-form class="thrusts" @submit.prevent="setThrusts">
        <el-input
          v-model="typed"
          size="small"
          placeholder="300 600 900"
          aria-label="Thrusts to compare at, in gf"
        />
        <span class="soft">gf</span>
        <el-button size="small" native-type="submit">Read there</el-button>
      </el-form>
    </header>
    <ComparisonTable :comparison="comparison" :marks="marks" />
    <p
      v-for="crossing in comparison.crossings"
      :key="`${crossing.run_a}-${crossing.run_b}-${crossing.thrust_gf}`"
      class="small crossing"
    >
      The power of runs {{ crossing.run_a }} and {{ crossing.run_b }} crosses at
      {{ Math.round(crossing.thrust_gf) }} gf; they differ measurably below
      {{ Math.round(crossing.from_gf) }} and above {{ Math.round(crossing.to_gf) }} gf.
    </p>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.head {
  display: flex;
  gap: 16px;
  align-items: center;
}
.thrusts {
  margin-left: auto;
  display: flex;
  gap: 6px;
  align-items: center;
}
.thrusts .el-input {
  width: 150px;
}
.crossing {
  margin: 6px 0 0;
}
</style>
