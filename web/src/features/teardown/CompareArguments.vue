<script setup lang="ts">
/** What the differences speak for and against, by topic, with the other view beside it. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { argumentsByTopic } from './comparing'

const props = defineProps<{
  arguments: Schemas['TeardownComparison']['arguments']
  /** Names of the samples, without their makers. */
  shorts: string[]
}>()
const topics = computed(() => argumentsByTopic(props.arguments))
</script>

<template>
  <section class="sheet">
    <h2>What the differences suggest</h2>
    <p class="soft small">
      Read from experience, not measured; the runs decide. Others read some of it the other way.
    </p>
    <p v-if="!topics.length" class="soft">No difference speaks for or against anything.</p>
    <dl>
      <template v-for="topic in topics" :key="topic.topic">
        <dt>{{ topic.topic }}</dt>
        <dd v-for="(said, at) in topic.said" :key="at">
          <span :class="said.speaks_for ? 'for' : 'against'">{{
            said.speaks_for ? 'for' : 'against'
          }}</span>
          {{ shorts[said.column] }}: {{ said.label.toLowerCase() }}
          {{ said.answer }}
          <span v-if="said.suggests" class="soft">({{ said.suggests }})</span>
        </dd>
      </template>
    </dl>
    <p v-for="other in topics.counterpoints" :key="other" class="soft small">
      On the other hand: {{ other }}
    </p>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 14px;
}
dl {
  margin: 8px 0;
}
dt {
  font-weight: 700;
  margin-top: 8px;
}
dd {
  margin: 2px 0;
}
.for,
.against {
  display: inline-block;
  min-width: 56px;
  font-size: 12px;
}
.for {
  color: var(--within);
}
.against {
  display: inline-block;
  min-width: 56px;
  font-size: 12px;
}
</style>
