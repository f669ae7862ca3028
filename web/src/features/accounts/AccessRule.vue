<script setup lang="ts">
/** From which role on a second factor is needed. */
import { useQuery } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { accessRuleQuery } from '@/api/peopleQueries'
import { useWrite } from '@/api/useWrite'
import ChoiceField from '@/forms/ChoiceField.vue'

type From = Schemas['AccessRule']['second_factor_from']
const { data: rule, refetch } = useQuery(accessRuleQuery())
const from = ref<From>('')
watch(rule, (now) => now && (from.value = now.second_factor_from), { immediate: true })
const WHO: { key: From; label: string }[] = [
  { key: '', label: 'of nobody' },
  { key: 'administrator', label: 'of administrators' },
  { key: 'editor', label: 'of editors and administrators' },
  { key: 'reviewer', label: 'of all but readers' },
  { key: 'reader', label: 'of everybody' },
]
const changing = useWrite('person', async (second_factor_from: From) =>
  dataOf(
    await api.PATCH('/api/v1/access-rule/', {
      body: { second_factor_from, version: rule.value?.version },
    }),
  ),
)
async function change(asked: From) {
  await changing.send(asked)
  await refetch()
  if (changing.problem.value) from.value = rule.value?.second_factor_from ?? ''
}
</script>

<template>
  <div class="rule">
    <ChoiceField
      id="second-rule"
      :model-value="from"
      label="A second factor is needed"
      :choices="WHO"
      @update:model-value="change($event as From)"
    />
    <span class="soft small"
      >Who needs one and has none is logged out, and sets it up at the next login.</span
    >
    <p v-if="changing.problem.value" class="fault" role="alert">
      {{ sentenceOf(changing.problem.value) }}
    </p>
  </div>
</template>

<style scoped>
.rule {
  border-top: 1px solid var(--line-soft);
  padding-top: 10px;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: end;
  margin: 10px 0;
}
.fault {
  color: var(--stop);
  width: 100%;
  margin: 0;
}
</style>
