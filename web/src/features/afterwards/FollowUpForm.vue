<script setup lang="ts">
/** An open point of a motor that is to come back: on a day, after hours, after a flight. */
import { computed, ref } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { numberFault, numberOrNull } from '@/figures/readNumber'
import ChoiceField from '@/forms/ChoiceField.vue'
import DayField from '@/forms/DayField.vue'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import { choices } from '@/words/words'

const props = defineProps<{ motor: number }>()
const text = ref('')
const trigger = ref('first_flight')
const day = ref('')
const hours = ref('')
const noting = useWrite('follow-up', async (body: Schemas['FollowUpRequest']) =>
  dataOf(await api.POST('/api/v1/follow-ups/', { body })),
)
const ready = computed(() => text.value.trim() && !numberFault(hours.value))
async function note() {
  if (!ready.value) return
  const sent = await noting.send({
    motor: props.motor,
    text: text.value,
    trigger: trigger.value as Schemas['FollowUpRequest']['trigger'],
    due_on: trigger.value === 'date' && day.value ? day.value : null,
    after_hours: trigger.value === 'hours' ? numberOrNull(hours.value) : null,
  })
  if (sent) text.value = day.value = hours.value = ''
}
const fault = (name: string) => fieldMessage(noting.problem.value, name)
</script>

<template>
  <form class="fields" @submit.prevent="note">
    <TextField
      v-model="text"
      label="To look at again"
      :maxlength="240"
      width="wide"
      :problem="fault('text')"
    />
    <ChoiceField v-model="trigger" label="When" :choices="choices('trigger')" />
    <DayField
      v-if="trigger === 'date'"
      v-model="day"
      label="Day"
      width="narrow"
      :problem="fault('due_on')"
    />
    <NumberField
      v-if="trigger === 'hours'"
      v-model="hours"
      label="Hours of use"
      unit="h"
      :problem="fault('after_hours')"
    />
    <el-button native-type="submit" :disabled="!ready" :loading="noting.busy.value"
      >Let it wait</el-button
    >
    <p v-if="noting.problem.value" role="alert" class="fault">
      {{ sentenceOf(noting.problem.value) }}
    </p>
  </form>
</template>

<style scoped>
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 14px;
  align-items: flex-end;
}
.fault {
  flex-basis: 100%;
  margin: 0;
  color: var(--stop);
}
</style>
