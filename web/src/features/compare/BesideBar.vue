<script setup lang="ts">
/** Further conditions that stand beside the first, each to be changed in place. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useAddress } from '@/app/useAddress'
import { readTyped } from '@/figures/readNumber'
import { CONDITION_WORDS, groupText, groupWords, takesLevel } from './bench'

const MOST = 4
const props = defineProps<{ shown: Schemas['BenchTable'] }>()
const { ask } = useAddress()
const more = computed(() => props.shown.groups.slice(1))
const say = (groups: string[]) => ask({ also: groups.join(';') })

/** The craft that is listed first goes with a condition that needs one. */
function add(condition: string) {
  const craft = props.shown.craft_listed[0]?.craft ?? null
  say([...more.value.map(groupText), groupText({ condition, craft, level: null })])
}
const drop = (at: number) => say(more.value.filter((_, k) => k !== at).map(groupText))
/** What is no number is sent as it was typed, so that the server says what is wrong with it. */
function changeLevel(at: number, text: string) {
  const typed = readTyped(text)
  const level = typed.kind === 'number' ? String(typed.value) : text.trim()
  say(
    more.value.map((one, k) => (k === at && level ? `${one.condition}@${level}` : groupText(one))),
  )
}
</script>

<template>
  <div class="choices" aria-label="Beside it" role="group">
    <span class="soft">Beside it:</span>
    <span v-for="(one, at) in more" :key="at" class="tag beside"
      >{{ groupWords(one) }}
      <input
        v-if="takesLevel(one.condition)"
        :value="one.level ?? ''"
        class="small-level"
        inputmode="decimal"
        :aria-label="`Level of ${CONDITION_WORDS[one.condition]}`"
        @change="changeLevel(at, ($event.target as HTMLInputElement).value)"
      />
      <button
        type="button"
        class="drop"
        :aria-label="`Take away ${groupWords(one)}`"
        @click="drop(at)"
      >
        ×
      </button></span
    >
    <el-select
      v-if="more.length < MOST"
      :model-value="undefined"
      size="small"
      filterable
      default-first-option
      placeholder="another condition"
      aria-label="Another condition beside it"
      class="condition"
      @update:model-value="add(String($event))"
    >
      <el-option
        v-for="one in shown.conditions"
        :key="one"
        :value="one"
        :label="CONDITION_WORDS[one] ?? one"
      />
    </el-select>
  </div>
</template>

<style scoped>
.condition {
  width: 178px;
}
.beside {
  display: inline-flex;
  align-items: center;
  gap: 4px;
}
.small-level {
  width: 58px;
  font: inherit;
  padding: 1px 4px;
}
.drop {
  border: 0;
  background: none;
  cursor: pointer;
  min-width: 24px;
  min-height: 24px;
}
</style>
