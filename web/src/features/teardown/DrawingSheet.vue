<script setup lang="ts">
/** The motors cut open beside one another at one scale, and the drawing as a file. */
import { ref } from 'vue'
import { sentenceOf } from '@/api/client'
import { download, pngOf, sized, standaloneSvg, withInk } from '@/charts/save'
import { PAPER } from '@/charts/theme'
import CutawayRow from '@/cutaway/CutawayRow.vue'

const WIDTH_PX = 1400
defineProps<{ motors: InstanceType<typeof CutawayRow>['$props']['motors'] }>()
const drawing = ref<InstanceType<typeof CutawayRow> | null>(null)
const problem = ref('')

async function save(kind: 'svg' | 'png') {
  problem.value = ''
  const svg = drawing.value?.svg
  if (!svg) return
  const copy = withInk(svg)
  const size = sized(copy, WIDTH_PX)
  const text = standaloneSvg(copy, PAPER.sheet)
  try {
    if (kind === 'svg')
      download(new Blob([text], { type: 'image/svg+xml' }), 'teardown-comparison.svg')
    else download(await pngOf(text, size.width, size.height), 'teardown-comparison.png')
  } catch (failure) {
    problem.value = sentenceOf(failure)
  }
}
</script>

<template>
  <section class="sheet">
    <div class="bar">
      <h2>At one scale</h2>
      <span>
        <el-button size="small" @click="save('svg')">SVG</el-button>
        <el-button size="small" @click="save('png')">PNG</el-button>
      </span>
    </div>
    <CutawayRow ref="drawing" :motors="motors" />
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
.bar {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
}
.bar > span {
  display: flex;
  gap: 14px;
  align-items: center;
}
.problem {
  color: var(--stop);
}
</style>
