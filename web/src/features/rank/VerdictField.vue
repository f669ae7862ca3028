<script setup lang="ts">
/** A motor's verdict in one sentence, edited where it stands. */
import { nextTick, ref } from 'vue'
import { api, dataOf, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'

const props = defineProps<{
  motor: number
  name: string
  version: number
  verdict: string
  mayWrite: boolean
}>()
const editing = ref(false)
const text = ref('')
const box = ref<{ focus: () => void } | null>(null)
const saving = useWrite('motor', async (verdict: string) =>
  dataOf(
    await api.PATCH('/api/v1/motors/{id}/', {
      params: { path: { id: props.motor } },
      body: { verdict, version: props.version },
    }),
  ),
)
async function open() {
  text.value = props.verdict
  editing.value = true
  await nextTick()
  box.value?.focus()
}
async function save() {
  if ((await saving.send(text.value.trim())) !== undefined) editing.value = false
}
</script>

<template>
  <form v-if="editing" class="edit" @submit.prevent="save" @keydown.esc.stop="editing = false">
    <el-input
      ref="box"
      v-model="text"
      maxlength="240"
      show-word-limit
      size="small"
      :aria-label="`Verdict on ${name} in a sentence`"
    />
    <el-button size="small" type="primary" native-type="submit" :loading="saving.busy.value"
      >Keep</el-button
    >
    <el-button size="small" text @click="editing = false">Cancel</el-button>
    <p v-if="saving.problem.value" class="problem" role="alert">
      {{ sentenceOf(saving.problem.value) }}
    </p>
  </form>
  <p v-else class="said">
    <em v-if="verdict">{{ verdict }}</em>
    <el-button
      v-if="mayWrite"
      size="small"
      text
      :aria-label="`${verdict ? 'change' : 'write a verdict'}: ${name}`"
      @click="open"
      >{{ verdict ? 'change' : 'write a verdict' }}</el-button
    >
  </p>
</template>

<style scoped>
.edit {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin-top: 2px;
}
.edit .el-input {
  flex: 1 1 260px;
}
.said {
  margin: 0;
  font-size: 12.5px;
}
.said .el-button {
  height: 20px;
  padding: 0 4px;
  color: var(--ink-soft);
}
.problem {
  flex-basis: 100%;
  margin: 0;
  color: var(--stop);
}
</style>
