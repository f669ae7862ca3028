<script setup lang="ts">
/** The figures a section rests on, in its margin: what they are, how many runs, and what moved. */
import { ref } from 'vue'
import type { VerdictFigure } from './prose'

defineProps<{ figures: VerdictFigure[]; mayWrite: boolean }>()
const emit = defineEmits<{ stand: [figure: number, word: string | null] }>()
const wording = ref<number | null>(null)
const word = ref('')
function open(figure: number) {
  wording.value = figure
  word.value = ''
}
function leave(figure: number) {
  emit('stand', figure, word.value)
  wording.value = null
}
const rests = (one: VerdictFigure) =>
  [
    one.n ? `n = ${one.n}` : '',
    // How many samples it rests on is known of what it is now.
    one.stale ? '' : one.samples === 1 ? 'one sample' : one.samples ? `${one.samples} samples` : '',
    one.assumed ? 'u partly assumed' : '',
  ]
    .filter(Boolean)
    .join(', ')
const now = (one: VerdictFigure) =>
  one.now
    ? `${one.now}${one.n_now && one.n_now !== one.n ? ` (n = ${one.n_now})` : ''}`
    : `gone: ${one.why_absent || 'it is no longer there'}`
</script>

<template>
  <ul v-if="figures.length" class="figures">
    <li v-for="one in figures" :key="one.id" :class="{ stale: one.stale && !one.word }">
      <strong v-if="one.kind !== 'record'" class="num">{{ one.stated }}</strong>
      <span class="what">{{ one.words }}</span>
      <span v-if="rests(one)" class="soft"> · {{ rests(one) }}</span>
      <template v-if="one.runs.length">
        <span class="soft"> · </span>
        <RouterLink v-if="one.runs.length === 1" :to="`/runs/${one.runs[0]}`"
          >run {{ one.runs[0] }}</RouterLink
        >
        <RouterLink v-else :to="`/compare?runs=${one.runs.join(',')}`"
          >{{ one.runs.length }} runs</RouterLink
        >
      </template>
      <div v-if="one.stale" class="moved">
        <span
          >{{ one.word ? 'Let stand' : 'Stale' }}: now
          <strong class="num">{{ now(one) }}</strong><template v-if="one.moved"
            >, beyond its uncertainty</template
          >.</span
        >
        <em v-if="one.word" class="soft"> “{{ one.word }}”</em>
        <template v-if="mayWrite">
          <form v-if="wording === one.id" class="word" @submit.prevent="leave(one.id)">
            <el-input
              v-model="word"
              size="small"
              maxlength="240"
              :aria-label="`Why ${one.stated} stands`"
              placeholder="why the old figure stands"
            />
            <el-button size="small" type="primary" native-type="submit" :disabled="!word.trim()"
              >Keep</el-button
            >
            <el-button size="small" text @click="wording = null">Cancel</el-button>
          </form>
          <div v-else class="acts">
            <el-button size="small" @click="emit('stand', one.id, null)"
              >Take {{ one.now || 'it as gone' }}</el-button
            >
            <el-button v-if="!one.word" size="small" text @click="open(one.id)"
              >Let it stand …</el-button
            >
          </div>
        </template>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.figures {
  margin: 0 0 10px;
  padding: 0;
  list-style: none;
}
li {
  padding: 3px 0 3px 8px;
  border-left: 2px solid var(--copper-soft);
  line-height: 1.45;
}
li.stale {
  border-left-color: var(--caution);
  background: var(--caution-soft);
}
.what {
  margin-left: 6px;
}
.moved {
  margin-top: 2px;
}
.acts,
.word {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin-top: 4px;
}
.acts .el-button + .el-button,
.word .el-button + .el-button {
  margin-left: 0;
}
</style>
