<script setup lang="ts">
/** The bench's lead length, in the sentence it stands in; a click changes it for all motors. */
import { ref } from 'vue'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import { readNumber } from '@/figures/readNumber'

const props = defineProps<{ length: number }>()
const { mayWrite } = useSession()
const declaring = useWrite('declaration', (body: Schemas['PatchedDeclarationRequest']) =>
  api.PATCH('/api/v1/bench-declaration/', { body }),
)
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
  const sent = await declaring.send({ lead_length_mm: value, version: version.value })
  if (sent) text.value = null
  else problem.value = sentenceOf(declaring.problem.value)
}
</script>

<template>
  <el-form v-if="text !== null" class="inline" @submit.prevent="declare">
    <el-input
      v-model="text"
      class="length"
      size="small"
      aria-label="Lead length of the bench, mm"
      @keydown.esc="text = null"
    />
    mm
    <el-button size="small" native-type="submit">for all motors</el-button>
    <span v-if="problem" class="problem" role="alert">{{ problem }}</span>
  </el-form>
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
.length {
  width: 68px;
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
