<script setup lang="ts">
/** Is like compared with like? What differs, what is unknown, and what cannot be told apart. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{ comparison: Schemas['Comparison'] }>()
const odd = computed(() => props.comparison.factors.filter((factor) => factor.state !== 'same'))
const same = computed(() => props.comparison.factors.filter((factor) => factor.state === 'same'))
</script>

<template>
  <section class="sheet like">
    <h2>Like with like?</h2>
    <p v-if="comparison.confounded.length" class="warn">
      {{ comparison.confounded.join(' and ') }} differ at the same time: a difference in the figures
      cannot be laid to any one of them.
    </p>
    <div class="scroll">
      <table class="grid">
        <thead>
          <tr>
            <th>Factor</th>
            <th v-for="(one, index) in comparison.subjects" :key="one.key">
              <slot name="subject" :index="index" />
            </th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="factor in odd" :key="factor.name">
            <td>{{ factor.name }}</td>
            <td v-for="(value, index) in factor.values" :key="index">{{ value }}</td>
            <td>
              <span class="tag" :class="factor.state === 'differs' ? 'caution' : ''">{{
                factor.state === 'differs' ? 'differs' : 'not known for all'
              }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="small soft">
      The same for all:
      {{
        same.map((factor) => `${factor.name} (${factor.values[0] || 'not noted'})`).join(' · ') ||
        'nothing'
      }}
    </p>
  </section>
</template>

<style scoped>
.like {
  margin-top: 12px;
}
.scroll {
  position: relative;
  overflow-x: auto;
}
.warn {
  background: var(--caution-soft);
  border-left: 4px solid var(--caution);
  padding: 5px 10px;
  margin: 6px 0;
}
p {
  margin: 8px 0 0;
}
</style>
