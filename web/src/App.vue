<script setup lang="ts">
import { VApp } from 'vuetify/components/VApp'
</script>

<template>
  <v-app>
    <router-view />
  </v-app>
</template>
