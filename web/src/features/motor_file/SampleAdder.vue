<script setup lang="ts">
/** One more sample of the motor. */
import { api, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import { nextMark } from './nextMark'

const props = defineProps<{ motor: number; taken: string[] }>()
const { mayWrite } = useSession()

const adding = useWrite('motor', () =>
  api.POST('/api/v1/motors/{id}/samples/', {
    params: { path: { id: props.motor } },
    body: { mark: nextMark(props.taken), turning: 'unknown', note: '' },
  }),
)
</script>

<template>
  <p v-if="mayWrite" class="add">
    <el-button size="small" :loading="adding.busy.value" @click="adding.send()"
      >Add sample {{ nextMark(taken) }}</el-button
    >
    <span v-if="adding.problem.value" role="alert">{{ sentenceOf(adding.problem.value) }}</span>
  </p>
</template>

<style scoped>
.add {
  margin: 8px 0 0;
}
</style>
