<script setup lang="ts">
/** A motor that does not start: one look after the other, and what each finding suggests. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { notStartingQuery } from '@/api/benchQueries'
import { api, dataOf, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import TextField from '@/forms/TextField.vue'

const props = defineProps<{ sample: number | null }>()
const open = defineModel<boolean>({ required: true })
const { data, isPending, error, refetch } = useQuery(
  computed(() => ({ ...notStartingQuery(), enabled: open.value })),
)
const found = ref<Record<string, string>>({})
const note = ref('')
const kept = ref(false)
const looks = computed(() => data.value?.looks ?? [])
/** Looks so far: each leads to the next, whatever was found. */
const shown = computed(() => {
  const first = looks.value.findIndex((look) => !found.value[look.key])
  return first < 0 ? looks.value : looks.value.slice(0, first + 1)
})
const through = computed(
  () => looks.value.length > 0 && shown.value.every((l) => found.value[l.key]),
)
const suggests = (key: string) => {
  const look = looks.value.find((one) => one.key === key)
  return look?.findings.find((one) => one.key === found.value[key])?.suggests ?? ''
}
const keeping = useWrite('sample', async () =>
  dataOf(
    await api.POST('/api/v1/samples/{id}/not-starting/', {
      params: { path: { id: props.sample ?? 0 } },
      body: { found: found.value, note: note.value },
    }),
  ),
)
async function keep() {
  if (await keeping.send()) kept.value = true
}
/** Another sample has not been looked at. */
watch(
  () => props.sample,
  () => {
    found.value = {}
    note.value = ''
    kept.value = false
  },
)
</script>

<template>
  <el-dialog v-model="open" title="It does not start" width="640px" modal-class="below-strip">
    <PageState :loading="isPending" :error="error" :retry="refetch" />
    <template v-if="data">
      <p class="before">{{ data.before }} The maker's instructions come first.</p>
      <ol>
        <li v-for="look in shown" :key="look.key">
          <fieldset>
            <legend>{{ look.question }}</legend>
            <p class="soft small">{{ look.how }}</p>
            <el-radio-group v-model="found[look.key]" :aria-label="look.question">
              <el-radio v-for="one in look.findings" :key="one.key" :value="one.key">{{
                one.words
              }}</el-radio>
            </el-radio-group>
            <p v-if="suggests(look.key)" class="suggests" role="status">
              {{ suggests(look.key) }}
            </p>
          </fieldset>
        </li>
      </ol>
      <p v-if="kept" role="status">
        It is kept as an incident of this sample, to be seen on its motor file.
      </p>
      <form v-else class="end" @submit.prevent="keep">
        <TextField v-model="note" label="What else was seen" :maxlength="400" width="wide" />
        <el-button
          native-type="submit"
          :type="through ? 'primary' : 'default'"
          :disabled="!sample || !Object.keys(found).length"
          :loading="keeping.busy.value"
          >Nothing helps: keep it as an incident</el-button
        >
        <el-button @click="open = false">It starts now</el-button>
      </form>
      <p v-if="!sample" class="soft small">
        Choose the sample at the bench to keep what was found.
      </p>
      <p v-if="keeping.problem.value" role="alert" class="fault">
        {{ sentenceOf(keeping.problem.value) }}
      </p>
    </template>
  </el-dialog>
</template>

<style scoped>
.before,
.suggests {
  border-left: 4px solid var(--caution-line, var(--copper));
  padding-left: 10px;
}
.suggests {
  margin: 4px 0 0;
  font-weight: 700;
}
ol {
  padding-left: 20px;
  max-height: 52vh;
  overflow: auto;
}
fieldset {
  border: 0;
  margin: 0 0 10px;
  padding: 0;
}
legend {
  font-weight: 700;
  padding: 0;
}
fieldset p.small {
  margin: 0;
}
.el-radio-group {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
}
.end {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: flex-end;
}
.end .el-button {
  margin: 0;
}
.fault {
  color: var(--stop);
}
</style>
