<script setup lang="ts">
/** The control that is held to arm, in sight however much there is to confirm. */
import HoldButton from './HoldButton.vue'

defineProps<{ mayWrite: boolean; mayArm: boolean; words: string; hindrance: string }>()
const emit = defineEmits<{ arm: [] }>()
</script>

<template>
  <div class="arm">
    <p v-if="!mayWrite" class="soft">Your role may watch the bench, not run it.</p>
    <HoldButton v-else :disabled="!mayArm" @held="emit('arm')">
      {{ words }}
    </HoldButton>
    <p v-if="mayWrite && hindrance" class="gaps">{{ hindrance }}</p>
  </div>
</template>

<style scoped>
.arm {
  position: sticky;
  bottom: -40px;
  z-index: 2;
  background: var(--dark);
  padding: 6px 0 40px;
  margin-bottom: -40px;
}
.soft {
  color: var(--dark-soft);
  margin-top: 8px;
}
.gaps {
  color: var(--dark-caution);
  margin-top: 8px;
  font-size: 13px;
}
</style>
