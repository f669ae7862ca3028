<script setup lang="ts">
/** A question about a motor: what differs. The answer is which runs to compare. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { sentenceOf } from '@/api/client'
import { type AskedChoice, choiceQuery } from '@/api/compareQueries'
import ChoiceField from '@/forms/ChoiceField.vue'
import MotorField from '@/forms/MotorField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import { WHAT_WORDS } from './asked'

const props = defineProps<{ motor: number | null }>()
const emit = defineEmits<{ take: [runs: number[], by: string] }>()
const client = useQueryClient()
const what = ref<string | null>(null)
const motor = ref<number | null>(props.motor)
const propeller = ref<number | null>(null)
const said = ref('')
const busy = ref(false)
watch(
  () => props.motor,
  (now) => (motor.value ??= now),
)
const CHOICES = Object.entries(WHAT_WORDS).map(([key, label]) => ({ key, label }))

async function take() {
  said.value = ''
  if (!what.value || !motor.value) {
    said.value = what.value ? 'Choose a motor.' : 'Choose what is to differ.'
    return
  }
  busy.value = true
  try {
    const asked = {
      what: what.value,
      motor: motor.value,
      propeller: propeller.value ?? undefined,
    } as AskedChoice
    const found = await client.fetchQuery(choiceQuery(asked))
    said.value = found.why_none
    if (found.runs.length && !found.why_none) emit('take', found.runs, found.by)
  } catch (failure) {
    said.value = sentenceOf(failure)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <el-form class="question" label-position="top" @submit.prevent="take">
    <ChoiceField v-model="what" label="Compare" :choices="CHOICES" placeholder="what differs" />
    <MotorField v-model="motor" label="Motor" />
    <PropellerField v-model="propeller" label="Propeller, if one is meant" />
    <el-button native-type="submit" :loading="busy">Take these runs</el-button>
    <p v-if="said" class="said" role="status">{{ said }}</p>
  </el-form>
</template>

<style scoped>
.question {
  margin-top: 6px;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: flex-end;
}
.said {
  flex-basis: 100%;
  margin: 0;
}
</style>
