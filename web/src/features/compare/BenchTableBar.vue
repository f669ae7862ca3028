<script setup lang="ts">
/** Under which condition the whole bench is seen, on which supply, in which figure and order. */
import { ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { useAddress } from '@/app/useAddress'
import { labelOf, unitOf } from '@/words/words'
import { CONDITION_WORDS, ORDER_WORDS, takesLevel } from './bench'

const props = defineProps<{ shown: Schemas['BenchTable'] | undefined; figure: string }>()
const { word, ask } = useAddress()
const level = ref('')
watch(
  () => [word('level'), props.shown?.level],
  () => (level.value = word('level') || String(props.shown?.level ?? '')),
  { immediate: true },
)
/** A condition with a craft where it needs one. */
function choose(condition: string) {
  const craft =
    condition === 'hover' ? String(props.shown?.craft_listed[0]?.craft ?? '') : undefined
  ask({ condition, craft, level: undefined })
}
</script>

<template>
  <div class="choices">
    <label
      >At
      <el-select
        :model-value="shown?.condition ?? 'full'"
        size="small"
        filterable
        default-first-option
        aria-label="Condition"
        class="condition"
        @update:model-value="choose"
      >
        <el-option
          v-for="one in shown?.conditions"
          :key="one"
          :value="one"
          :label="CONDITION_WORDS[one] ?? one"
        />
      </el-select>
    </label>
    <label v-if="shown?.condition === 'hover'"
      >of
      <el-select
        :model-value="shown.craft ?? undefined"
        size="small"
        filterable
        default-first-option
        aria-label="Craft"
        class="supply"
        :placeholder="shown.craft_listed.length ? 'choose a craft' : 'no craft is kept'"
        @update:model-value="ask({ craft: String($event) })"
      >
        <el-option
          v-for="one in shown.craft_listed"
          :key="one.craft"
          :value="one.craft"
          :label="one.name"
        />
      </el-select>
    </label>
    <form v-else-if="shown && takesLevel(shown.condition)" @submit.prevent="ask({ level })">
      <label for="bench-level">of</label>
      <el-input
        id="bench-level"
        v-model="level"
        size="small"
        inputmode="decimal"
        class="level"
        @change="ask({ level: String($event) })"
      />
      <span class="soft">{{ unitOf(shown.condition) }}</span>
    </form>
    <label
      >on
      <el-select
        :model-value="shown?.supply ?? ''"
        size="small"
        aria-label="Supply"
        class="supply"
        @update:model-value="ask({ supply: String($event), baseline: undefined })"
      >
        <el-option
          v-for="one in shown?.supplies"
          :key="one.key"
          :value="one.key"
          :label="`${one.words} (${one.rows})`"
        />
        <el-option
          v-if="(shown?.supplies.length ?? 0) > 1 || shown?.supply === 'every'"
          value="every"
          label="every supply, side by side"
        />
      </el-select>
    </label>
    <label
      >Figure
      <el-select
        :model-value="figure"
        size="small"
        filterable
        default-first-option
        aria-label="Figure"
        class="figure-select"
        @update:model-value="ask({ figure: String($event) })"
      >
        <el-option v-for="one in shown?.figures" :key="one" :value="one" :label="labelOf(one)" />
      </el-select>
    </label>
    <label
      >Rows
      <el-select
        :model-value="word('order') || 'propeller'"
        size="small"
        aria-label="Order of the rows"
        class="condition"
        @update:model-value="ask({ order: String($event) })"
      >
        <el-option v-for="(label, key) in ORDER_WORDS" :key="key" :value="key" :label="label" />
      </el-select>
    </label>
  </div>
</template>

<style scoped>
.condition {
  width: 178px;
}
.supply {
  width: 200px;
}
.figure-select {
  width: 190px;
}
.level {
  width: 80px;
}
</style>
