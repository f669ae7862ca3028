<script setup lang="ts" generic="R extends { id: number; struck_reason: string; version: number }">
/** Records that are never deleted: a mistake is struck out with its reason, and can stand again. */
import { computed, nextTick, ref } from 'vue'
import { api, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'

const props = defineProps<{
  head: string[]
  /** Places of the columns that hold numbers. */
  numeric: number[]
  kind: 'weighings' | 'preparations' | 'incidents'
  records: R[]
  empty: string
}>()
const { mayWrite } = useSession()
const striking = ref(0)
const reason = ref('')
const field = ref<{ focus: () => void }[]>([])

async function begin(id: number) {
  striking.value = id
  reason.value = ''
  await nextTick()
  field.value[0]?.focus()
}

interface Strike {
  id: number
  version: number
  why: string
}
const write = useWrite('sample', ({ id, version, why }: Strike): Promise<unknown> => {
  const options = { params: { path: { id } }, body: { struck_reason: why, version } }
  if (props.kind === 'weighings') return api.PATCH('/api/v1/weighings/{id}/', options)
  if (props.kind === 'preparations') return api.PATCH('/api/v1/preparations/{id}/', options)
  return api.PATCH('/api/v1/incidents/{id}/', options)
})
const problem = computed(() => (write.problem.value ? sentenceOf(write.problem.value) : ''))

async function strike({ id, version }: R, why: string) {
  if (await write.send({ id, version, why })) striking.value = 0
}
</script>

<template>
  <p v-if="!records.length" class="soft">{{ empty }}</p>
  <table v-else class="grid">
    <thead>
      <tr>
        <th v-for="(name, at) in head" :key="name" :class="{ num: numeric.includes(at) }">
          {{ name }}
        </th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="record in records" :key="record.id">
        <tr :class="{ struck: record.struck_reason }">
          <slot name="cells" :record="record" />
          <td class="num">
            <template v-if="mayWrite">
              <el-button v-if="record.struck_reason" link size="small" @click="strike(record, '')"
                >Let it stand</el-button
              >
              <el-button v-else link size="small" @click="begin(record.id)">Strike out</el-button>
            </template>
          </td>
        </tr>
        <tr v-if="record.struck_reason || striking === record.id">
          <td :colspan="head.length + 1" class="small">
            <el-form
              v-if="striking === record.id"
              class="why"
              @submit.prevent="strike(record, reason)"
            >
              <el-input
                ref="field"
                v-model="reason"
                aria-label="Why it is a mistake"
                placeholder="Why it is a mistake"
                maxlength="200"
                @keydown.esc="striking = 0"
              />
              <el-button size="small" native-type="submit" :disabled="!reason.trim()"
                >Strike out</el-button
              >
            </el-form>
            <template v-else>Struck out: {{ record.struck_reason }}</template>
          </td>
        </tr>
      </template>
    </tbody>
  </table>
  <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
</template>

<style scoped src="./intake.css"></style>
<style scoped>
.why {
  display: flex;
  gap: 8px;
}
</style>
