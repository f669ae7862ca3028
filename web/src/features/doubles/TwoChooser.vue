<script setup lang="ts">
/** Two motors or propellers that somebody knows to be one, however they are written. */
import { computed, ref, watch } from 'vue'
import MotorField from '@/forms/MotorField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import type { Two } from './doubles'

const emit = defineEmits<{ chosen: [two: Two] }>()
const thing = ref<'motor' | 'propeller'>('motor')
const stays = ref<number | null>(null)
const gone = ref<number | null>(null)
watch(thing, () => (stays.value = gone.value = null))
const problem = computed(() =>
  stays.value !== null && stays.value === gone.value ? 'Choose another: it is the same.' : '',
)
function look() {
  if (stays.value === null || gone.value === null || problem.value) return
  emit('chosen', { thing: thing.value, stays: stays.value, gone: gone.value })
}
</script>

<template>
  <section class="sheet" aria-labelledby="by-hand">
    <h2 id="by-hand">Two that are written quite otherwise</h2>
    <el-segmented
      v-model="thing"
      :options="[
        { value: 'motor', label: 'Motors' },
        { value: 'propeller', label: 'Propellers' },
      ]"
      aria-label="What they are"
    />
    <form class="two" @submit.prevent="look">
      <template v-if="thing === 'motor'">
        <MotorField v-model="stays" label="The one that stays" width="wide" />
        <MotorField
          v-model="gone"
          label="The one that becomes it"
          width="wide"
          :problem="problem"
        />
      </template>
      <template v-else>
        <PropellerField v-model="stays" label="The one that stays" width="wide" />
        <PropellerField
          v-model="gone"
          label="The one that becomes it"
          width="wide"
          :problem="problem"
        />
      </template>
      <el-button native-type="submit" :disabled="stays === null || gone === null || !!problem"
        >Look at them</el-button
      >
    </form>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 14px;
}
.sheet h2 {
  margin-bottom: 8px;
}
.two {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: flex-end;
  margin-top: 10px;
}
</style>
