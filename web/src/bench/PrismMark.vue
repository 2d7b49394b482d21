<template>
  <svg
    viewBox="0 0 32 24"
    fill="none"
    stroke="currentColor"
    stroke-linejoin="round"
    stroke-linecap="round"
    aria-hidden="true"
  >
    <path d="M3 20 11 4l8 16z" stroke-width="1.6" />
    <path
      d="M15 11.500 26 3.500M15.600 12.300 28 7M16 13.100 29.500 10.300M16.400 13.800 30 13.500M16.800 14.600 29.500 16.700M17.200 15.400 28 19.800M17.600 16.200 26 22.500"
      stroke-width="1.2"
    />
  </svg>
</template>
