<script setup lang="ts">
/** What was expected, when and by whom, and what came of it. */
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { dateTime } from '@/figures/format'

defineProps<{ expectations: Schemas['ExpectationOnFile'][] }>()
</script>

<template>
  <p v-if="!expectations.length" class="soft">Nothing noted yet.</p>
  <ul v-else class="expected">
    <li v-for="item in expectations" :key="item.id">
      <template v-if="item.held_against">
        <strong>{{ item.held_against.label }}</strong>&nbsp;
        <Figure :value="item.held_against.said" :unit="item.held_against.unit" /> expected,
        <Figure
          :value="item.held_against.measured.value"
          :u="item.held_against.measured.u"
          :unit="item.held_against.unit"
          :reason="item.held_against.measured.reason"
        />
        measured
        <template v-if="item.held_against.deviation_pct.value !== null">
          (<Figure
            signed
            :value="item.held_against.deviation_pct.value"
            :u="item.held_against.deviation_pct.u"
            unit="%"
          />)
        </template>
      </template>
      <span v-if="item.text">&nbsp;“{{ item.text }}”&nbsp;</span>
      <span class="soft small">{{ item.who }}, {{ dateTime(item.noted_at) }}</span>
    </li>
  </ul>
</template>

<style scoped>
.expected {
  margin: 6px 0 0;
  padding-left: 18px;
}
.expected li {
  margin-bottom: 4px;
}
</style>
