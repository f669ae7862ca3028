<script setup lang="ts">
/** What follows from the answers, each with what it rests on. */
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'

defineProps<{ findings: Schemas['TeardownSheet']['findings'] }>()
</script>

<template>
  <dl class="findings">
    <template v-for="finding in findings" :key="finding.name">
      <dt>
        {{ finding.label }} <span class="soft small">{{ finding.origin || 'derived' }}</span>
      </dt>
      <dd>
        <Figure :value="finding.value" :u="finding.u" :unit="finding.unit" :reason="finding.note" />
        <span v-if="finding.note" class="soft small"> {{ finding.note }}</span>
      </dd>
    </template>
  </dl>
</template>

<style scoped src="./teardown.css"></style>
