<script setup lang="ts">
/** Oneself: password and logins; and for an administrator everybody who may come in. */
import { useSession } from '@/app/useSession'
import OwnSheet from './OwnSheet.vue'
import PeopleSheet from './PeopleSheet.vue'

const { user, mayAdmin } = useSession()
</script>

<template>
  <header class="head">
    <h1>People</h1>
    <RouterLink v-if="mayAdmin" to="/upkeep">Upkeep: parts, room, backups</RouterLink>
  </header>
  <PeopleSheet v-if="mayAdmin" />
  <OwnSheet v-if="user" :user="user" />
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  align-items: baseline;
}
</style>
