<script setup lang="ts">
/** A logbook or a mailbox as a table: say what each column is; all rows are noted, or none. */
import type { UploadFile } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import { type Schemas, sendForm, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'

const props = defineProps<{ of: 'flights' | 'letters' }>()
const file = shallowRef<File | null>(null)
const looked = ref<Schemas['LookedTable'] | null>(null)
const columns = ref<string[]>([])
const problem = ref<unknown>(null)
const said = ref('')
const formOf = (of: File) => {
  const form = new FormData()
  form.append('file', of)
  form.append('of', props.of)
  return form
}
async function open(chosen: File) {
  problem.value = looked.value = null
  said.value = ''
  file.value = chosen
  try {
    looked.value = await sendForm<Schemas['LookedTable']>(
      '/api/v1/afterwards/tables/look/',
      formOf(chosen),
    )
    columns.value = [...looked.value.proposed]
  } catch (error) {
    problem.value = error
  }
}
const noting = useWrite(props.of === 'flights' ? 'flight' : 'letter', (form: FormData) =>
  sendForm<Schemas['NotedTable']>('/api/v1/afterwards/tables/', form),
)
const lacks = computed(() =>
  (looked.value?.choices ?? [])
    .filter((one) => one.needed && !columns.value.includes(one.name))
    .map((one) => one.title),
)
async function note() {
  if (!file.value) return
  const form = formOf(file.value)
  form.append('columns', JSON.stringify(columns.value))
  const done = await noting.send(form)
  if (!done) return
  said.value = `${done.noted} noted.`
  looked.value = null
}
</script>

<template>
  <el-upload
    accept=".csv,text/csv"
    :auto-upload="false"
    :show-file-list="false"
    :on-change="(chosen: UploadFile) => chosen.raw && open(chosen.raw)"
  >
    <span class="el-button is-text">{{
      of === 'flights' ? 'A logbook as CSV …' : 'Letters as CSV …'
    }}</span>
  </el-upload>
  <p v-if="said" role="status">{{ said }}</p>
  <p v-if="problem" role="alert" class="fault">{{ sentenceOf(problem) }}</p>
  <form v-if="looked && file" class="table" @submit.prevent="note">
    <p>{{ file.name }}: {{ looked.rows }} rows. What is each column?</p>
    <div class="wide">
      <table class="grid small">
        <thead>
          <tr>
            <th v-for="(head, at) in looked.heads" :key="at">
              {{ head || `column ${at + 1}` }}
              <el-select
                v-model="columns[at]"
                filterable
                :empty-values="[undefined]"
                :aria-label="`Column ${head || at + 1}`"
              >
                <el-option value="" label="leave it out" />
                <el-option
                  v-for="one in looked.choices"
                  :key="one.name"
                  :value="one.name"
                  :label="one.title"
                />
              </el-select>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, at) in looked.first" :key="at">
            <td v-for="(cell, place) in row" :key="place">{{ cell }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="row">
      <el-button
        type="primary"
        native-type="submit"
        :disabled="lacks.length > 0"
        :loading="noting.busy.value"
        >Note all {{ looked.rows }}</el-button
      >
      <el-button text @click="looked = null">Leave it</el-button>
      <span v-if="lacks.length" class="soft small">Still to be named: {{ lacks.join(', ') }}</span>
    </div>
    <p v-if="noting.problem.value" role="alert" class="fault">
      {{ sentenceOf(noting.problem.value) }}
    </p>
  </form>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
th {
  min-width: 130px;
}
.row {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 8px;
}
.fault {
  color: var(--stop);
}
</style>
