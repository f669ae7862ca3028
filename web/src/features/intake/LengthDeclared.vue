<script setup lang="ts">
/** The bench's lead length, in the sentence it stands in; a click changes it for all motors. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, dataOf, sentenceOf } from '@/api/client'
import { refreshRecord } from '@/api/queries'
import { useSession } from '@/app/useSession'
import { readNumber } from '@/figures/readNumber'

const props = defineProps<{ length: number }>()
const { mayWrite } = useSession()
const client = useQueryClient()
const text = ref<string | null>(null)
const problem = ref('')
/** The version that the length shown was read from. */
const version = ref<number>()

async function begin() {
  text.value = String(props.length)
  try {
    version.value = dataOf(await api.GET('/api/v1/bench-declaration/')).version
  } catch (failure) {
    problem.value = sentenceOf(failure)
  }
}

async function declare() {
  const value = readNumber(text.value ?? '')
  problem.value = value === null ? 'A length in mm, for instance 60.' : ''
  if (value === null) return
  try {
    await api.PATCH('/api/v1/bench-declaration/', {
      body: { lead_length_mm: value, version: version.value },
    })
    await refreshRecord(client)
    text.value = null
  } catch (failure) {
    problem.value = sentenceOf(failure)
  }
}
</script>

<template>
  <form v-if="text !== null" class="inline" @submit.prevent="declare">
    <input v-model="text" aria-label="Lead length of the bench, mm" @keydown.esc="text = null" /> mm
    <el-button size="small" native-type="submit">for all motors</el-button>
    <span v-if="problem" class="problem" role="alert">{{ problem }}</span>
  </form>
  <button
    v-else
    type="button"
    class="declared"
    :disabled="!mayWrite"
    title="the bench's declared lead length"
    @click="begin"
  >
    {{ length }} mm
  </button>
</template>

<style scoped>
.inline {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  font-weight: 400;
}
.inline input {
  width: 64px;
  height: 28px;
  border: 1px solid var(--el-border-color);
  border-radius: 3px;
  padding: 0 6px;
}
.declared {
  border: 0;
  border-bottom: 1px dashed var(--ink);
  background: none;
  font: inherit;
  padding: 0;
  cursor: pointer;
  min-height: 24px;
}
.problem {
  color: var(--stop);
  font-size: 13px;
}
</style>
