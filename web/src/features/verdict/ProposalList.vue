<script setup lang="ts">
/** What the data would say in a section: for and against, the weakest first to check. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{ statements: Schemas['Statement'][] }>()
const emit = defineEmits<{ adopt: [key: string] }>()
const FEW = 3
const all = ref(false)
const open = computed(() => props.statements.filter((one) => !one.taken))
const shown = computed(() => (all.value ? open.value : open.value.slice(0, FEW)))
const SIDES = { for: 'for it', against: 'against it', neither: '' } as const
/** How safe a difference is: at 1 its 95 % interval only just leaves out zero. */
function sure(strength: number | null): string {
  if (strength === null) return ''
  if (strength < 1.5) return 'only just real: check it first'
  return strength < 3 ? 'clearly real' : 'far beyond doubt'
}
</script>

<template>
  <div v-if="open.length" class="proposals">
    <h3>The data would say</h3>
    <ul>
      <li v-for="one in shown" :key="one.key">
        <p class="said">{{ one.text }}</p>
        <p class="soft small">
          <span v-if="SIDES[one.side]" class="side" :class="one.side">{{ SIDES[one.side] }}</span>
          <span v-if="sure(one.strength)">{{ sure(one.strength) }}</span>
          <span v-if="one.caveat">{{ one.caveat }}</span>
        </p>
        <el-button size="small" :aria-label="`Take: ${one.text}`" @click="emit('adopt', one.key)"
          >Take</el-button
        >
      </li>
    </ul>
    <el-button v-if="open.length > FEW" size="small" text @click="all = !all">{{
      all ? 'Fewer' : `${open.length - FEW} more`
    }}</el-button>
  </div>
</template>

<style scoped>
h3 {
  margin: 0 0 4px;
  font-size: 12.5px;
  font-weight: 400;
  color: var(--ink-soft);
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  margin-bottom: 8px;
  padding-left: 8px;
  border-left: 2px solid var(--line);
}
.said {
  margin: 0;
  line-height: 1.45;
}
.small {
  margin: 0 0 3px;
}
.small span + span::before {
  content: ' · ';
}
.side.for {
  color: var(--within);
}
.side.against {
  color: var(--copper);
}
</style>
