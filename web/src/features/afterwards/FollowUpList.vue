<script setup lang="ts">
/** Open points that wait for their trigger; what is due stands first. */
import { ref } from 'vue'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import TextField from '@/forms/TextField.vue'
import { wordOf } from '@/words/words'
import { triggerText } from './flights'

defineProps<{ points: readonly Schemas['FollowUpState'][]; motors?: boolean }>()
const { mayWrite } = useSession()
const closing = ref<Schemas['FollowUp'] | null>(null)
const word = ref('')
const changing = useWrite('follow-up', async (row: Schemas['FollowUp']) =>
  dataOf(
    await api.PATCH('/api/v1/follow-ups/{id}/', {
      params: { path: { id: row.id } },
      body: { done: !row.done_on, done_note: row.done_on ? '' : word.value, version: row.version },
    }),
  ),
)
async function close(row: Schemas['FollowUp']) {
  if (!(await changing.send(row))) return
  closing.value = null
  word.value = ''
}
</script>

<template>
  <ul class="points">
    <li v-for="one in points" :key="one.row.id" :class="{ due: one.due, done: one.row.done_on }">
      <span>
        <strong v-if="one.due">Due: </strong>{{ one.row.text }}
        <RouterLink v-if="motors" :to="`/motors/${one.row.motor}?look=afterwards`">{{
          one.row.motor_name
        }}</RouterLink>{{ ' ' }}
        <span class="soft small">
          {{
            one.row.done_on
              ? `done ${one.row.done_on}${one.row.done_note ? `: ${one.row.done_note}` : ''}`
              : triggerText(one, wordOf('trigger', one.row.trigger))
          }}</span
        >
      </span>
      <template v-if="mayWrite">
        <el-button v-if="one.row.done_on" text size="small" @click="close(one.row)"
          >not done</el-button
        >
        <el-button
          v-else
          text
          size="small"
          :aria-label="`Done: ${one.row.text}`"
          @click="closing = one.row"
          >done …</el-button
        >
      </template>
    </li>
  </ul>
  <form v-if="closing" class="row" @submit.prevent="close(closing)">
    <TextField
      v-model="word"
      :label="`What came of: ${closing.text}`"
      :maxlength="240"
      width="wide"
    />
    <el-button type="primary" native-type="submit" :loading="changing.busy.value">Done</el-button>
    <el-button text @click="closing = null">Leave it</el-button>
  </form>
  <p v-if="changing.problem.value" role="alert" class="fault">
    {{ sentenceOf(changing.problem.value) }}
  </p>
</template>

<style scoped>
.points {
  margin: 2px 0;
  padding: 0;
  list-style: none;
}
.points li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 3px 0 3px 10px;
  border-left: 3px solid transparent;
}
.points .due {
  border-left-color: var(--caution);
}
.points .done {
  color: var(--ink-soft);
}
.row {
  display: flex;
  gap: 10px;
  align-items: flex-end;
  max-width: 640px;
  margin-top: 6px;
}
.fault {
  color: var(--stop);
}
</style>
