<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { VApp } from 'vuetify/components/VApp'

import { sessionQuery } from '@/api/queries'

import FailedPage from './shell/FailedPage.vue'
import KeptLine from './shell/KeptLine.vue'

/** A page is made anew when the units change: what its fields hold means something else in the others. */
const { data: session } = useQuery({ ...sessionQuery, enabled: false })
</script>

<template>
  <v-app>
    <KeptLine />
    <FailedPage />
    <router-view :key="session?.units === 'us' ? 'us' : 'metric'" />
  </v-app>
</template>
