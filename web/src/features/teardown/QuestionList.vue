<script setup lang="ts">
/** The questions in the order of looking, each with its answer. */
import { nextTick, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { answerInWords } from './answers'

const props = defineProps<{
  attributes: Schemas['Attribute'][]
  answers: Map<string, Schemas['Observation']>
  waiting: Set<string>
  index: number
}>()
const emit = defineEmits<{ go: [index: number] }>()

watch(
  () => props.index,
  () =>
    void nextTick(() =>
      document.querySelector('.questions .here')?.scrollIntoView?.({ block: 'nearest' }),
    ),
)
</script>

<template>
  <ol class="questions" aria-label="Questions in the order of looking" tabindex="0">
    <li v-for="(attribute, at) in attributes" :key="attribute.key">
      <h3 v-if="at === 0 || attributes[at - 1]?.step !== attribute.step">{{ attribute.step }}</h3>
      <button
        type="button"
        :class="{ here: at === index }"
        :aria-current="at === index ? 'step' : undefined"
        @click="emit('go', at)"
      >
        <span>{{ attribute.label }}</span>
        <strong
          v-if="answers.get(attribute.key)"
          :class="answers.get(attribute.key)?.status"
          :title="answers.get(attribute.key)?.note || undefined"
          >{{ answerInWords(attribute, answers.get(attribute.key)!)
          }}<template v-if="waiting.has(attribute.key)"> · not sent</template></strong
        >
        <span v-else class="soft">not looked at</span>
      </button>
    </li>
  </ol>
</template>

<style scoped>
.questions {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: calc(100vh - 190px);
  overflow: auto;
}
h3 {
  margin: 10px 0 3px;
  color: var(--ink-soft);
}
button {
  width: 100%;
  display: flex;
  justify-content: space-between;
  gap: 12px;
  text-align: left;
  border: 0;
  border-bottom: 1px solid var(--line-soft);
  background: none;
  padding: 6px 8px;
  cursor: pointer;
}
button.here {
  background: var(--copper-soft);
  box-shadow: inset 4px 0 0 var(--copper);
}
strong {
  text-align: right;
}
strong.same_as,
strong.ordinal {
  font-weight: 400;
}
strong.inferred {
  font-weight: 400;
  font-style: italic;
}
strong.could_not_tell,
strong.not_looked {
  font-weight: 400;
  color: var(--ink-soft);
}
</style>
