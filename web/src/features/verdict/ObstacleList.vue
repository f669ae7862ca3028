<script setup lang="ts">
/** What stands in the way of publishing, what blocks it first; a word leads to where it is mended. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{
  obstacles: Schemas['Obstacle'][]
  mayWrite?: boolean
  busy?: boolean
}>()
const emit = defineEmits<{ standByOrder: [] }>()
const blocking = computed(() => props.obstacles.filter((one) => one.blocks))
const said = computed(() => props.obstacles.filter((one) => !one.blocks))
</script>

<template>
  <section class="sheet" aria-labelledby="obstacles">
    <h2 id="obstacles">Before it can be published</h2>
    <p v-if="!blocking.length" class="ready" role="status">Nothing stands in the way.</p>
    <ul v-if="blocking.length" class="blocking">
      <li v-for="(one, at) in blocking" :key="at">
        {{ one.message
        }}<template v-if="one.word_lifts"> Take it anew or say why it stands.</template>
        <el-button
          v-if="one.code === 'order_moved' && mayWrite"
          size="small"
          :loading="busy"
          @click="emit('standByOrder')"
          >Stand by it as it is now</el-button
        >
      </li>
    </ul>
    <template v-if="said.length">
      <h3>Worth a look</h3>
      <ul>
        <li v-for="(one, at) in said" :key="at">{{ one.message }}</li>
      </ul>
    </template>
  </section>
</template>

<style scoped>
.sheet {
  align-self: start;
}
h2 {
  margin: 0 0 6px;
  font-size: 14px;
}
h3 {
  margin: 8px 0 4px;
  font-size: 12.5px;
  font-weight: 400;
  color: var(--ink-soft);
}
ul {
  margin: 0;
  padding-left: 18px;
  font-size: 12.5px;
  line-height: 1.5;
}
.blocking {
  color: var(--caution);
}
.ready {
  margin: 0;
  color: var(--within);
}
</style>
