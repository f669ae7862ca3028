<script setup lang="ts">
/** A sample's half-section, small: the picture of a motor beside its name. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { teardownQuery } from '@/api/queries'
import { contradiction, dimensionsOf } from './dimensions'
import { section } from './section'
import SectionView from './SectionView.vue'

const props = defineProps<{
  sample: number
  name: string
  size?: { code: string; basis: string }
}>()
const { data: sheet } = useQuery(
  computed(() => ({ ...teardownQuery(props.sample), enabled: props.sample > 0 })),
)
const dimensions = computed(() => {
  // Where most of the sheet does not apply the motor is a can, which is not drawn.
  if (!sheet.value || sheet.value.not_applicable.length) return null
  const d = dimensionsOf(sheet.value.observations, props.size)
  return contradiction(d) ? null : d
})
const box = computed(() => (dimensions.value ? section(dimensions.value).box : null))
const view = computed(() =>
  box.value
    ? `${box.value.x - 0.5} ${box.value.y - 0.5} ${box.value.width + 1} ${box.value.height + 1}`
    : '',
)
</script>

<template>
  <svg v-if="dimensions" class="thumb" :viewBox="view" role="img" :aria-label="`${name}, cut open`">
    <SectionView :dimensions="dimensions" :at="[0, 0]" />
  </svg>
</template>

<style scoped>
.thumb {
  height: 64px;
  width: 72px;
  flex: 0 0 auto;
}
</style>
