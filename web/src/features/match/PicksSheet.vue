<script setup lang="ts">
/** What to choose, with the trade in words; and instead of what flies now. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { levelList, levelWords } from './words'

const NOBODY = { names: [], more: 0 }
const props = defineProps<{ found: Schemas['CraftMatch'] }>()
const strong = computed(() => levelList(props.found.picks?.alike.strongest ?? NOBODY))
const cautions = computed(() => {
  const chosen = props.found.picks?.chosen
  return props.found.rows.find((one) => one.name === chosen)?.cautions ?? []
})
</script>

<template>
  <section class="sheet picks" aria-label="What to choose">
    <template v-if="found.picks">
      <p class="lead">
        Choose <strong>{{ found.picks.chosen }}</strong>: {{ found.picks.trade
        }}<template v-if="found.picks.chosen !== found.picks.strongest">
          against the strongest, {{ found.picks.strongest }}</template
        >. <span class="soft level">{{ levelWords(found.picks.alike.chosen) }}</span>
      </p>
      <p v-if="found.picks.strongest !== found.picks.chosen && strong" class="soft">
        As strong as the strongest, as far as is told: {{ strong }}.
      </p>
      <p v-if="found.picks.thriftiest !== found.picks.chosen">
        Thriftiest in hover: {{ found.picks.thriftiest }}.
        <span class="soft">{{ levelWords(found.picks.alike.thriftiest) }}</span>
      </p>
    </template>
    <p v-if="cautions.length" class="caution">To know of it: {{ cautions.join('; ') }}.</p>
    <p v-if="!found.picks" class="lead">Nothing to choose: {{ found.no_pick }}.</p>
    <div v-if="found.upgrade" class="upgrade">
      <h2>Instead of {{ found.upgrade.now }}</h2>
      <p v-if="found.upgrade.why_not">{{ found.upgrade.why_not }}.</p>
      <p v-else-if="!found.upgrade.changes.length">Nothing that may be chosen changes it.</p>
      <p v-for="one in found.upgrade.changes" :key="one.kind">
        <span class="tag">{{ one.kind }}</span>
        <span :class="{ estimated: one.estimated }">{{ one.sentence }}</span>
      </p>
    </div>
  </section>
</template>

<style scoped>
.picks {
  border-left: 5px solid var(--copper);
}
.picks p {
  margin: 0 0 6px;
}
.level {
  font-size: 14px;
}
.lead {
  font-size: 16px;
}
.upgrade {
  margin-top: 10px;
}
.upgrade h2 {
  font-size: 14px;
  margin-bottom: 4px;
}
.upgrade .tag {
  margin-right: 6px;
}
.estimated {
  font-style: italic;
}
.caution {
  color: var(--caution-ink);
}
</style>
