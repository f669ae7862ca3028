<script setup lang="ts">
/** Under what it is compared: what counts as one, the condition with its levels, against what. */
import { ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { labelOf, unitOf } from '@/words/words'
import { BY_WORDS, numbersIn } from './asked'
import { CONDITION_WORDS } from './bench'

const props = defineProps<{ comparison: Schemas['Comparison']; problem: string }>()
const emit = defineEmits<{ ask: [changes: Record<string, string | undefined>] }>()
const typed = ref('')
watch(
  () => props.comparison.levels,
  (levels) => (typed.value = levels.map((level) => String(Math.round(level * 10) / 10)).join(' ')),
  { immediate: true },
)
function setLevels() {
  // What is no number is sent as it is, so that the server says what is wrong with it.
  const parts = typed.value
    .trim()
    .split(/[\s;]+/)
    .filter(Boolean)
  const numbers = numbersIn(typed.value)
  emit('ask', { levels: numbers.length === parts.length ? numbers.join(',') : parts.join(',') })
}
</script>

<template>
  <div class="choices">
    <label
      >One is
      <el-select
        :model-value="comparison.by"
        size="small"
        filterable
        default-first-option
        aria-label="What counts as one"
        class="by"
        @update:model-value="emit('ask', { by: String($event) })"
      >
        <el-option v-for="(words, key) in BY_WORDS" :key="key" :value="key" :label="words" />
      </el-select>
    </label>
    <label
      >read at
      <el-select
        :model-value="comparison.condition"
        size="small"
        filterable
        default-first-option
        aria-label="Condition"
        class="condition"
        @update:model-value="emit('ask', { condition: String($event), levels: undefined })"
      >
        <el-option v-for="(words, key) in CONDITION_WORDS" :key="key" :value="key" :label="words" />
      </el-select>
    </label>
    <form v-if="comparison.condition !== 'full'" @submit.prevent="setLevels">
      <label for="compare-levels">of</label>
      <el-input
        id="compare-levels"
        v-model="typed"
        size="small"
        class="levels"
        :aria-label="`Levels of ${labelOf(comparison.condition).toLowerCase()}, of which it is read`"
        @change="setLevels"
      />
      <span class="soft">{{ unitOf(comparison.condition) }}</span>
    </form>
    <label
      >held against
      <el-select
        :model-value="comparison.against"
        size="small"
        filterable
        default-first-option
        aria-label="Held against"
        class="against"
        @update:model-value="emit('ask', { against: String($event) })"
      >
        <el-option value="baseline" label="the baseline" />
        <el-option value="previous" label="the one before" />
      </el-select>
    </label>
    <el-checkbox
      :model-value="comparison.correction.length > 0"
      @update:model-value="emit('ask', { correct: $event ? 'true' : undefined })"
      >at nominal voltage, in reference air</el-checkbox
    >
  </div>
  <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
</template>

<style scoped>
.choices {
  margin-bottom: 0;
}
.by {
  width: 150px;
}
.condition {
  width: 178px;
}
.against {
  width: 132px;
}
.levels {
  width: 190px;
}
.problem {
  color: var(--stop);
  margin: 4px 0 0;
}
</style>
