<script setup lang="ts">
/** What was used, named for the reader: where it is sold, since when that is known, who is paid. */
import { computed } from 'vue'
import { api, dataOf, sentenceOf } from '@/api/client'
import type { Schemas } from '@/api/client'
import { useFactForm } from '@/merging/useFactForm'
import PartRow from './PartRow.vue'

type Part = Required<Schemas['UsedPart']>
type Form = { parts: Part[] }
const props = defineProps<{ verdict: Schemas['Verdict']; mayWrite: boolean }>()
const emit = defineEmits<{ kept: [verdict: Schemas['Verdict']] }>()
const whole = (one: Schemas['UsedPart']): Part => ({
  what: one.what,
  name: one.name,
  link: one.link ?? '',
  noted_on: one.noted_on ?? null,
  pays: one.pays ?? null,
})
const { form, dirty, problem, conflict, busy, saved, save, drop } = useFactForm<Form>({
  key: () => `verdict-parts/${props.verdict.id}`,
  stored: () => ({
    values: { parts: props.verdict.parts.map(whole) },
    version: props.verdict.version,
  }),
  write: async (values, version) => {
    const now = dataOf(
      await api.PATCH('/api/v1/verdicts/{id}/', {
        params: { path: { id: props.verdict.id } },
        body: { parts: values.parts, version },
      }),
    )
    emit('kept', now)
    return now.version
  },
})
const parts = computed(() => form.value.parts ?? [])
const unnamed = computed(() =>
  props.verdict.gear.filter((one) => !parts.value.some((part) => part.name === one.name)),
)
const set = (next: Part[]) => (form.value = { parts: next })
function change(at: number, values: Partial<Part>) {
  set(parts.value.map((one, index) => (index === at ? { ...one, ...values } : one)))
}
const add = (one: { what: Part['what']; name: string }) =>
  set([...parts.value, whole({ what: one.what, name: one.name })])
</script>

<template>
  <section class="sheet" aria-labelledby="parts">
    <h2 id="parts">Used</h2>
    <p class="soft small">
      Named on the page, so that a reader can buy or borrow the same. A link says whether it pays.
    </p>
    <table v-if="parts.length" class="grid wide">
      <thead>
        <tr>
          <th>What</th>
          <th>Name</th>
          <th>Link</th>
          <th>Pays</th>
          <th>Noted</th>
          <th><span class="visually-hidden">Take off</span></th>
        </tr>
      </thead>
      <tbody>
        <PartRow
          v-for="(one, at) in parts"
          :key="at"
          :part="one"
          :may-write="mayWrite"
          @change="change(at, $event)"
          @off="set(parts.filter((_, index) => index !== at))"
        />
      </tbody>
    </table>
    <p v-else class="soft">Nothing is named yet.</p>
    <template v-if="mayWrite">
      <p v-if="unnamed.length" class="add">
        <el-button
          v-for="one in unnamed"
          :key="`${one.what}/${one.name}`"
          size="small"
          @click="add(one)"
          >+ {{ one.name }}</el-button
        >
      </p>
      <div class="row">
        <el-button type="primary" :disabled="!dirty" :loading="busy" @click="save()"
          >Keep</el-button
        >
        <span v-if="saved" role="status" class="soft small">Kept.</span>
      </div>
      <p v-if="problem" class="fault" role="alert">{{ sentenceOf(problem) }}</p>
      <div v-if="conflict" class="rival" role="alert">
        {{ conflict.who }} changed the parts while you were writing.
        <el-button size="small" type="primary" @click="save(form as Form, conflict.version)"
          >Keep mine</el-button
        >
        <el-button size="small" @click="drop()">Take theirs</el-button>
      </div>
    </template>
  </section>
</template>

<style scoped>
.sheet {
  margin-bottom: 12px;
}
.wide {
  width: 100%;
}
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 8px 0;
}
.add .el-button + .el-button {
  margin-left: 0;
}
.row {
  display: flex;
  gap: 10px;
  align-items: center;
}
.rival {
  margin-top: 8px;
  padding: 8px 10px;
  border-left: 3px solid var(--caution);
  background: var(--caution-soft);
}
.fault {
  color: var(--stop);
}
</style>
