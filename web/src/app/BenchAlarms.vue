<script setup lang="ts">
/** What must not be overlooked on any screen: a stop that did not arrive, a process that hangs. */
import { computed } from 'vue'
import { useBench } from '@/live/useBench'

const bench = useBench()
/** The door is opened in a moment after logging in; only a door that stays shut is worth a word. */
const shut = computed(() => bench.canCut && !bench.door.open)
</script>

<template>
  <div class="alarms">
    <p v-if="bench.stopProblem" class="stop-problem" role="alert">
      {{ bench.stopProblem }}
    </p>
    <p v-else-if="bench.stopping" class="sent" role="status">STOP sent…</p>
    <p v-if="bench.stopNews" class="news" role="status">{{ bench.stopNews }}</p>
    <p v-if="shut" class="trouble" role="status">
      The stop door is shut: STOP goes the long way, by the web process. Keep a hand at the supply.
    </p>
    <p v-for="trouble in bench.door.troubles" :key="trouble" class="trouble" role="status">
      {{ trouble }}
    </p>
  </div>
</template>

<style scoped>
.alarms {
  grid-area: alarms;
  max-height: 40vh;
  overflow: auto;
}
p {
  margin: 0;
  padding: 6px 18px;
}
.stop-problem {
  background: var(--stop);
  color: var(--on-ink);
  font-size: 24px;
  font-weight: 700;
  padding: 14px 18px;
}
.sent {
  background: var(--copper-soft);
  font-weight: 700;
}
.news {
  background: var(--within-soft);
}
.trouble {
  background: var(--caution-soft);
  color: var(--caution-ink);
  border-bottom: 1px solid var(--caution-line);
}
</style>
