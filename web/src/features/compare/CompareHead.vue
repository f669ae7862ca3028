<script setup lang="ts">
/** The head of every page of Compare, with the ways to the others. */
const WAYS = [
  { path: '/compare', words: 'Curves' },
  { path: '/compare/bench', words: 'The whole bench' },
  { path: '/compare/tests', words: 'Other tests' },
  { path: '/compare/mass', words: 'Mass and money' },
  { path: '/compare/benches', words: 'Other benches' },
]
defineProps<{ here: string; reading?: boolean }>()
</script>

<template>
  <header class="head">
    <h1>Compare</h1>
    <nav aria-label="What is compared">
      <template v-for="way in WAYS" :key="way.path">
        <strong v-if="way.path === here" aria-current="page">{{ way.words }}</strong>
        <RouterLink v-else :to="way.path">{{ way.words }}</RouterLink>
      </template>
    </nav>
    <span v-if="reading" class="soft">reading…</span>
    <nav class="files" aria-label="As files, and kept"><slot /></nav>
  </header>
</template>

<style scoped>
.head,
.head nav {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 14px;
}
.files {
  margin-left: auto;
}
</style>
