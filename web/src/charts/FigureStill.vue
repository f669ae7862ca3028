<script setup lang="ts">
/** One figure as a 16:9 still for footage: it is chosen, its words are large. */
import { computed, ref } from 'vue'
import { download } from './save'
import { figureStill, type StillFigure } from './stills'

const props = defineProps<{ name: string; title: string; figures: StillFigure[] }>()
const asking = ref(false)
const chosen = ref('')
const busy = ref(false)
const problem = ref('')
const figure = computed(
  () => props.figures.find((one) => one.label === chosen.value) ?? props.figures[0],
)
async function save() {
  if (!figure.value) return
  problem.value = ''
  busy.value = true
  try {
    const word = figure.value.label.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-')
    download(await figureStill(props.title, figure.value), `${props.name}-${word}-16x9.png`)
    asking.value = false
  } catch (failure) {
    problem.value = failure instanceof Error ? failure.message : 'No still was made.'
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <el-popover v-if="figures.length" v-model:visible="asking" trigger="click" :width="250">
    <template #reference>
      <el-button size="small" text aria-label="16:9 still of one figure">16:9</el-button>
    </template>
    <p class="words">One figure as a picture of 1920 × 1080.</p>
    <el-select
      :model-value="figure?.label"
      size="small"
      filterable
      default-first-option
      :teleported="false"
      aria-label="Which figure"
      @update:model-value="chosen = String($event)"
    >
      <el-option v-for="one in figures" :key="one.label" :value="one.label" :label="one.label" />
    </el-select>
    <el-button size="small" type="primary" class="save" :loading="busy" @click="save"
      >Save PNG</el-button
    >
    <p v-if="problem" role="alert" class="words">{{ problem }}</p>
  </el-popover>
</template>

<style scoped>
.words {
  margin: 0 0 4px;
}
.save {
  margin-top: 8px;
}
</style>
