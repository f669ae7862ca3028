<script setup lang="ts">
/** The one sentence. Of a motor it stands on Rank too; no figure belongs into it. */
import { computed } from 'vue'
import { api, dataOf, fieldMessage, sentenceOf } from '@/api/client'
import type { Schemas } from '@/api/client'
import MergeView from '@/merging/MergeView.vue'
import { useFactForm } from '@/merging/useFactForm'

const props = defineProps<{
  verdict: Schemas['Verdict']
  proposed: string[]
  mayWrite: boolean
}>()
const emit = defineEmits<{ kept: [verdict: Schemas['Verdict']] }>()
/** A motor's sentence is written from the motor's version, under the motor's name for it. */
const name = computed(() => (props.verdict.motor ? 'verdict' : 'sentence'))
const { form, base, dirty, problem, conflict, busy, saved, save, drop } = useFactForm<
  Record<string, string>
>({
  key: () => `verdict-sentence/${props.verdict.id}`,
  stored: () => ({
    values: { [name.value]: props.verdict.sentence },
    version: props.verdict.sentence_version ?? props.verdict.version,
  }),
  write: async (values, version) => {
    const sentence = values[name.value] ?? ''
    const now = dataOf(
      await api.PATCH('/api/v1/verdicts/{id}/', {
        params: { path: { id: props.verdict.id } },
        body: props.verdict.motor
          ? { sentence, sentence_version: version, version: props.verdict.version }
          : { sentence, version },
      }),
    )
    emit('kept', now)
    return now.sentence_version ?? now.version
  },
})
const text = computed({
  get: () => form.value[name.value] ?? '',
  set: (value: string) => (form.value = { [name.value]: value }),
})
function take(sentence: string) {
  text.value = sentence.slice(0, 240)
  void save()
}
</script>

<template>
  <form class="sentence" @submit.prevent="save()">
    <label :for="`sentence-${verdict.id}`"
      >In one sentence, without figures: they stand below</label
    >
    <el-input
      :id="`sentence-${verdict.id}`"
      v-model="text"
      type="textarea"
      autosize
      maxlength="240"
      show-word-limit
      :readonly="!mayWrite"
      placeholder="Who should buy it, and why?"
      @blur="dirty && save()"
      @keydown.enter.prevent="save()"
    />
    <p v-if="dirty || busy || saved" class="soft small" role="status">
      {{ busy ? 'Keeping …' : dirty ? 'Not kept yet: Enter keeps it.' : 'Kept.' }}
    </p>
    <p v-if="problem" class="fault" role="alert">
      {{ fieldMessage(problem, 'sentence') || sentenceOf(problem) }}
    </p>
    <MergeView
      v-if="conflict"
      :base="base"
      :mine="form"
      :current="conflict"
      :labels="{ verdict: 'sentence' }"
      @settle="(values, version) => save(values as Record<string, string>, version)"
      @drop="drop()"
    />
    <ul v-if="mayWrite && proposed.length" class="proposed">
      <li v-for="one in proposed" :key="one">
        <span>{{ one }}</span>
        <el-button size="small" text :aria-label="`Take: ${one}`" @click="take(one)"
          >Take</el-button
        >
      </li>
    </ul>
  </form>
</template>

<style scoped>
label {
  display: block;
  margin-bottom: 3px;
  font-size: 13px;
  color: var(--ink-soft);
}
.sentence :deep(.el-textarea__inner) {
  font-size: 17px;
  line-height: 1.45;
}
.fault {
  margin: 4px 0;
  color: var(--stop);
}
.proposed {
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
  font-size: 12.5px;
  color: var(--ink-soft);
}
</style>
