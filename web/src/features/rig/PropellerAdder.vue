<script setup lang="ts">
/** One more propeller of the library. */
import { ref } from 'vue'
import { api, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { readNumber } from '@/figures/readNumber'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'

const draft = ref({ maker: '', diameter: '', pitch: '', blades: '3' })
const adding = useWrite('propeller', (body: Schemas['PropellerRequest']) =>
  api.POST('/api/v1/propellers/', { body }),
)
const { problem, busy } = adding

async function add() {
  const number = (text: string) => readNumber(text) ?? Number.NaN
  const sent = await adding.send({
    maker: draft.value.maker,
    diameter_in: number(draft.value.diameter),
    pitch_in: number(draft.value.pitch),
    blades: number(draft.value.blades),
  })
  if (sent) draft.value = { maker: draft.value.maker, diameter: '', pitch: '', blades: '3' }
}
</script>

<template>
  <el-form class="add" @submit.prevent="add">
    <TextField v-model="draft.maker" label="Maker" :problem="fieldMessage(problem, 'maker')" />
    <NumberField
      v-model="draft.diameter"
      label="Diameter"
      unit="in"
      :problem="fieldMessage(problem, 'diameter_in')"
    />
    <NumberField
      v-model="draft.pitch"
      label="Pitch"
      unit="in"
      :problem="fieldMessage(problem, 'pitch_in')"
    />
    <NumberField v-model="draft.blades" label="Blades" :problem="fieldMessage(problem, 'blades')" />
    <el-button native-type="submit" :disabled="!draft.maker" :loading="busy">Add</el-button>
  </el-form>
  <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
</template>

<style scoped>
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  margin-top: 12px;
  align-items: flex-end;
}
.problem {
  color: var(--stop);
  margin-top: 8px;
}
</style>
