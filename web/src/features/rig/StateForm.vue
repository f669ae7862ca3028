<script setup lang="ts">
/** The geometry from a day on. Weights one by one; a total that somebody added up is checked. */
import { useLocalStorage } from '@vueuse/core'
import { computed, reactive, ref } from 'vue'
import { api, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { formatNumber, localDay } from '@/figures/format'
import { numberFault, numberOrNull } from '@/figures/readNumber'
import DayField from '@/forms/DayField.vue'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import { asText } from './percent'

const props = defineProps<{
  stand: Schemas['StandSheet']
  current: Schemas['StandState'] | null
}>()
const emit = defineEmits<{ done: [] }>()
interface Weight {
  name: string
  mass: string
  u: string
}
const today = localDay()
function begun() {
  const state = props.current
  return {
    day: today,
    motor: asText(state?.motor_arm_mm),
    scale: asText(state?.scale_arm_mm),
    arms_u: asText(state?.arm_u_mm),
    lifts: state?.lifts ?? false,
    rest: asText(state?.rest_g || null),
    step: asText(state?.step_g ?? 1),
    total: '',
    weights: (state?.weights ?? []).map((weight) => ({
      name: weight.name,
      mass: asText(weight.mass_g),
      u: asText(weight.u_g),
    })) as Weight[],
  }
}
const draft = useLocalStorage(`spindle.stand-state-${props.stand.id}`, begun())
const wrong = ref('')
const weight = reactive<Weight>({ name: '', mass: '', u: '' })
const lever = computed(() => props.stand.kind === 'lever' || Boolean(draft.value.motor))
const sum = computed(() => {
  const grams = draft.value.weights.map((one) =>
    numberFault(one.mass) ? NaN : numberOrNull(one.mass),
  )
  return grams.some((one) => one === null || Number.isNaN(one))
    ? null
    : grams.reduce<number>((total, one) => total + (one ?? 0), 0)
})
/** A sum that was made by head, held against the weights. */
const disagrees = computed(() => {
  if (!draft.value.total.trim() || numberFault(draft.value.total) || sum.value === null) return ''
  const typed = numberOrNull(draft.value.total) ?? 0
  if (Math.abs(typed - sum.value) <= 0.5) return ''
  return `The weights make ${formatNumber(sum.value, 1)} g, not ${typed} g.`
})
function addWeight() {
  if (!weight.name.trim() || !weight.mass.trim() || numberFault(weight.mass)) return
  draft.value.weights.push({ ...weight })
  Object.assign(weight, { name: '', mass: '', u: '' })
}
const writing = useWrite('stand', (body: Schemas['StandStateRequest']) =>
  api.POST('/api/v1/stands/{id}/states/', { params: { path: { id: props.stand.id } }, body }),
)
async function keep() {
  addWeight()
  const { day, motor, scale, arms_u, rest, step, lifts } = draft.value
  const same = props.stand.states.find((state) => state.valid_from === day)
  wrong.value =
    [motor, scale, arms_u, rest, step].map((text) => numberFault(text)).find(Boolean) ?? ''
  if (wrong.value) return
  try {
    await writing.sendOrThrow({
      valid_from: day,
      motor_arm_mm: numberOrNull(motor),
      scale_arm_mm: numberOrNull(scale),
      arm_u_mm: numberOrNull(arms_u),
      lifts,
      rest_g: lifts ? (numberOrNull(rest) ?? 0) : 0,
      step_g: numberOrNull(step) ?? 1,
      weights: draft.value.weights.map((one) => ({
        name: one.name,
        mass_g: numberOrNull(one.mass) ?? 0,
        u_g: numberOrNull(one.u),
      })),
      version: same?.version,
    })
  } catch (failure) {
    wrong.value = sentenceOf(failure)
    return
  }
  draft.value = null
  emit('done')
}
function drop() {
  draft.value = null
  emit('done')
}
</script>

<template>
  <el-form class="line" @submit.prevent="keep">
    <DayField v-model="draft.day" label="Since" width="usual" />
    <template v-if="lever">
      <NumberField v-model="draft.motor" label="Arm of the motor" unit="mm" />
      <NumberField v-model="draft.scale" label="Arm of the scale" unit="mm" />
      <NumberField v-model="draft.arms_u" label="u of an arm" unit="mm" placeholder="1 (assumed)" />
    </template>
    <NumberField v-model="draft.step" label="Step of the scale" unit="g" />
    <el-checkbox v-model="draft.lifts">thrust takes load off the scale</el-checkbox>
    <NumberField v-if="draft.lifts" v-model="draft.rest" label="At rest it shows" unit="g" />
    <h3>Dead weights, added to what the scale shows</h3>
    <p v-for="(one, at) in draft.weights" :key="at" class="weight">
      {{ one.name }} <span class="figure">{{ one.mass }}<span class="unit">g</span></span>
      <el-button link size="small" @click="draft.weights.splice(at, 1)"
        >Take off<span class="visually-hidden"> {{ one.name }}</span></el-button
      >
    </p>
    <TextField v-model="weight.name" label="Weight" placeholder="plate" width="narrow" />
    <NumberField v-model="weight.mass" label="Weighs" unit="g" />
    <NumberField v-model="weight.u" label="u" unit="g" placeholder="0.5 (assumed)" />
    <el-button @click="addWeight">One more weight</el-button>
    <NumberField
      v-if="draft.weights.length"
      v-model="draft.total"
      label="Their sum, if you added it up"
      unit="g"
      width="usual"
      :placeholder="sum === null ? '' : formatNumber(sum, 1)"
      :problem="disagrees"
    />
    <span class="ends">
      <el-button
        type="primary"
        native-type="submit"
        :loading="writing.busy.value"
        :disabled="Boolean(disagrees)"
        >Keep this geometry</el-button
      >
      <el-button @click="drop">Leave it</el-button>
    </span>
  </el-form>
  <p v-if="wrong" class="problem" role="alert">{{ wrong }}</p>
</template>

<style scoped src="./rig.css"></style>
<style scoped>
h3,
.weight,
.ends {
  flex-basis: 100%;
  margin: 4px 0 0;
}
</style>
