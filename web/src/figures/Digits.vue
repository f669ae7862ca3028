<script setup lang="ts">
/** Digits in the mono face, with the separators drawn narrow: a full cell tears numbers apart. */
import { computed } from 'vue'

const props = defineProps<{ text: string }>()
const parts = computed(() => props.text.split(/([.,])/))
</script>

<template>
  <span class="digits"
    ><template v-for="(part, index) in parts" :key="index"
      ><i v-if="part === '.' || part === ','">{{ part }}</i
      ><template v-else>{{ part }}</template></template
    ></span
  >
</template>

<style scoped>
i {
  font-style: inherit;
  margin: 0 -0.3em 0 -0.06em;
}
</style>
