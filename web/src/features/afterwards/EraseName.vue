<script setup lang="ts">
/** A reader's or a pilot's name, taken off the record and its history; what they wrote stays. */
import { ref } from 'vue'
import { api, dataOf, fieldMessage } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import TextField from '@/forms/TextField.vue'

const name = ref('')
const said = ref('')
const erasing = useWrite('letter', async (whose: string) =>
  dataOf(await api.POST('/api/v1/afterwards/erasing/', { body: { name: whose } })),
)
async function erase() {
  said.value = ''
  const done = await erasing.send(name.value)
  if (!done) return
  const left = done.mentioned.length
    ? ` It still stands in the words of ${done.mentioned.length}; read letters ${done.mentioned.join(', ')}.`
    : ''
  said.value = `Erased from ${done.changed}.${left}`
  name.value = ''
}
</script>

<template>
  <details class="erase">
    <summary>Erase a name</summary>
    <form class="row" @submit.prevent="erase">
      <TextField
        v-model="name"
        label="Whose name is erased, here and in every history"
        :maxlength="80"
        width="wide"
        :problem="fieldMessage(erasing.problem.value, 'name')"
      />
      <el-popconfirm
        title="It cannot be brought back."
        confirm-button-text="Erase it"
        cancel-button-text="Leave it"
        :width="220"
        @confirm="erase"
      >
        <template #reference>
          <el-button :disabled="!name.trim()" :loading="erasing.busy.value">Erase it …</el-button>
        </template>
      </el-popconfirm>
    </form>
    <p v-if="said" role="status">{{ said }}</p>
  </details>
</template>

<style scoped>
.erase {
  margin-top: 14px;
}
.row {
  display: flex;
  gap: 10px;
  align-items: flex-end;
  max-width: 560px;
  margin-top: 6px;
}
</style>
