<script setup lang="ts">
/** Let somebody in: a name, what they may, and a password that is told once. */
import { ref } from 'vue'
import { api, dataOf, fieldMessage, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import ChoiceField from '@/forms/ChoiceField.vue'
import TextField from '@/forms/TextField.vue'
import { madeUp } from './password'
import { type Role, ROLES } from './roles'

const emit = defineEmits<{ made: [told: { whose: string; password: string }] }>()
const username = ref('')
const fullName = ref('')
const role = ref<Role | null>('reviewer')
const adding = useWrite('person', async (password: string) =>
  dataOf(
    await api.POST('/api/v1/users/', {
      body: {
        username: username.value.trim(),
        full_name: fullName.value.trim(),
        role: role.value ?? 'reader',
        password,
      },
    }),
  ),
)
async function add() {
  const password = madeUp()
  const made = await adding.send(password)
  if (!made) return
  emit('made', { whose: made.shown_name, password })
  username.value = fullName.value = ''
}
const named = () => fieldMessage(adding.problem.value, 'username')
</script>

<template>
  <form class="new" aria-label="Let somebody in" @submit.prevent="add">
    <TextField v-model="fullName" label="Name" placeholder="as others see it" />
    <TextField v-model="username" label="Logs in as" :problem="named()" />
    <ChoiceField
      v-model="role"
      label="May"
      :choices="ROLES.map((one) => ({ key: one.key, label: `${one.label}: ${one.may}` }))"
      width="wide"
    />
    <el-button
      type="primary"
      native-type="submit"
      :loading="adding.busy.value"
      :disabled="!username.trim()"
      >Let in</el-button
    >
    <p v-if="adding.problem.value && !named()" class="fault" role="alert">
      {{ sentenceOf(adding.problem.value) }}
    </p>
  </form>
</template>

<style scoped>
.new {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: flex-end;
  margin-top: 14px;
}
.fault {
  color: var(--stop);
}
</style>
