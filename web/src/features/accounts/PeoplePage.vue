<script setup lang="ts">
/** Oneself: password and logins; and for an administrator everybody who may come in. */
import { useSession } from '@/app/useSession'
import OwnSheet from './OwnSheet.vue'
import PeopleSheet from './PeopleSheet.vue'

const { user, mayAdmin } = useSession()
</script>

<template>
  <h1>People</h1>
  <PeopleSheet v-if="mayAdmin" />
  <OwnSheet v-if="user" :user="user" />
</template>
