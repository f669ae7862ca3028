<script setup lang="ts">
/** Oneself: password and logins; and for an administrator everybody who may come in. */
import { computed } from 'vue'
import { useSession } from '@/app/useSession'
import OwnSheet from './OwnSheet.vue'
import PeopleSheet from './PeopleSheet.vue'
import SecondFactor from './SecondFactor.vue'

const { user, mayAdmin, query } = useSession()
const due = computed(() => query.data.value?.second_factor_due ?? false)
</script>

<template>
  <header class="head">
    <h1>People</h1>
    <RouterLink v-if="mayAdmin && !due" to="/upkeep">Upkeep: parts, room, backups</RouterLink>
  </header>
  <template v-if="!due">
    <PeopleSheet v-if="mayAdmin" />
    <OwnSheet v-if="user" :user="user" />
  </template>
  <SecondFactor v-if="user" />
</template>

<style scoped>
.head {
  margin-bottom: 12px;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  align-items: baseline;
}
</style>
