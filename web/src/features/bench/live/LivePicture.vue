<script setup lang="ts">
/** The picture of the run in hand that answers its kind's question, with what was expected. */
import { useQuery } from '@tanstack/vue-query'
import { refThrottled } from '@vueuse/core'
import { computed, toRef } from 'vue'
import type { Schemas } from '@/api/client'
import { inHandQuery } from '@/api/benchQueries'
import ChartSheet from '@/charts/ChartSheet.vue'
import { DARK } from '@/charts/theme'
import { pictureLabel, pictureOption } from './picture'

const props = defineProps<{ frame: Schemas['Frame'] | null; height: number }>()
const { data: inHand } = useQuery(computed(() => inHandQuery(props.frame?.run_id ?? null)))
const curve = computed(() =>
  inHand.value && inHand.value.run_id === props.frame?.run_id ? inHand.value.curve : [],
)
// Four drawings a second are enough, and leave a slow machine its main thread for the keys.
const frame = refThrottled(toRef(props, 'frame'), 250, true)
const picture = computed(() => frame.value?.picture ?? null)
const ceiling_c = computed(
  () => frame.value?.limits.find((limit) => limit.name === 'motor_temp_c')?.limit ?? null,
)
const option = computed(() =>
  picture.value
    ? pictureOption(picture.value, curve.value, frame.value?.expected ?? [], ceiling_c.value)
    : null,
)
</script>

<template>
  <section v-if="picture && option" class="picture" aria-label="Picture of the run">
    <p class="says" role="status">{{ picture.says || '\u00a0' }}</p>
    <ChartSheet
      :option="option"
      name="live-picture"
      :height="height"
      :colors="DARK"
      :label="pictureLabel(picture)"
    />
    <p class="caption">{{ pictureLabel(picture) }}</p>
  </section>
</template>

<style scoped>
.says {
  margin: 8px 0 0;
  font-size: 22px;
  font-weight: 700;
}
.caption {
  margin: 0;
  font-size: 12.5px;
  color: var(--dark-soft);
}
</style>
