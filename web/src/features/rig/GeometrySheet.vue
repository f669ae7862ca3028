<script setup lang="ts">
/** How thrust becomes a reading: arms, direction, dead weights, as they are since a day. */
import { computed, ref } from 'vue'
import { useSession } from '@/app/useSession'
import type { Schemas } from '@/api/client'
import { formatNumber } from '@/figures/format'
import StandDrawing from './StandDrawing.vue'
import StateForm from './StateForm.vue'

const props = defineProps<{ stand: Schemas['StandSheet'] }>()
const { mayWrite } = useSession()
const states = computed(() => [...props.stand.states].reverse())
const current = computed(() => states.value[0] ?? null)
const changing = ref(false)

/** What a reading means, as one would write it on the stand. */
const sentence = computed(() => {
  const state = current.value
  if (!state) return 'thrust = reading'
  const grams = (value: number) => `${formatNumber(value, value % 1 ? 1 : 0)} g`
  let text = state.lifts ? `${grams(state.rest_g ?? 0)} − reading` : 'reading'
  for (const weight of state.weights) text += ` + ${grams(weight.mass_g)} (${weight.name})`
  if (state.motor_arm_mm && state.scale_arm_mm) {
    const both = `${state.scale_arm_mm} mm ÷ ${state.motor_arm_mm} mm`
    text = /[+−]/.test(text) ? `(${text}) × ${both}` : `${text} × ${both}`
  }
  return `thrust = ${text}`
})
</script>

<template>
  <div class="bar">
    <h2>Geometry</h2>
    <el-button v-if="mayWrite" size="small" :aria-expanded="changing" @click="changing = !changing"
      >Changed since a day</el-button
    >
  </div>
  <StandDrawing :kind="stand.kind" :state="current" />
  <p class="means">{{ sentence }}</p>
  <p v-if="current" class="soft small">
    Since {{ current.valid_from }}; the scale shows steps of {{ current.step_g }} g.
    <template v-if="current.motor_arm_mm && current.arm_u_mm == null">
      Arms are taken to be good to 1 mm (assumed).</template
    >
    <template v-if="states.length > 1">
      {{ states.length - 1 }} earlier {{ states.length === 2 ? 'state' : 'states' }}: what was read
      then keeps it.</template
    >
  </p>
  <p v-else class="soft small">Nothing is declared: the scale is taken to show the thrust.</p>
  <StateForm v-if="changing" :stand="stand" :current="current" @done="changing = false" />
</template>

<style scoped src="./rig.css"></style>
<style scoped>
.means {
  margin: 6px 0 0;
  font-weight: 600;
}
</style>
