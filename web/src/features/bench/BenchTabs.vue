<script setup lang="ts">
/** The two ways to a run: a stand that is driven from here, and instruments that are read. */
</script>

<template>
  <nav class="bench-tabs" aria-label="Ways to a run">
    <RouterLink to="/bench">On the stand</RouterLink>
    <RouterLink to="/readings">Readings</RouterLink>
  </nav>
</template>

<style scoped>
.bench-tabs {
  display: flex;
  gap: 4px;
  margin: 0 0 10px;
}
.bench-tabs a {
  padding: 4px 12px;
  color: inherit;
  text-decoration: none;
  border-bottom: 3px solid transparent;
}
.bench-tabs a.router-link-exact-active {
  font-weight: 700;
  border-bottom-color: var(--copper);
}
</style>
