<script setup lang="ts">
/** One more sample of the motor. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, sentenceOf } from '@/api/client'
import { refreshRecord } from '@/api/queries'
import { useSession } from '@/app/useSession'
import { nextMark } from './nextMark'

const props = defineProps<{ motor: number; taken: string[] }>()
const { mayWrite } = useSession()
const client = useQueryClient()
const problem = ref('')

async function add() {
  problem.value = ''
  try {
    await api.POST('/api/v1/motors/{id}/samples/', {
      params: { path: { id: props.motor } },
      body: { mark: nextMark(props.taken), turning: 'unknown', note: '' },
    })
    await refreshRecord(client)
  } catch (error) {
    problem.value = sentenceOf(error)
  }
}
</script>

<template>
  <p v-if="mayWrite" class="add">
    <el-button size="small" @click="add">Add sample {{ nextMark(taken) }}</el-button>
    <span v-if="problem" role="alert">{{ problem }}</span>
  </p>
</template>

<style scoped>
.add {
  margin: 8px 0 0;
}
</style>
