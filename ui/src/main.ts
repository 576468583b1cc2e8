import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/atkinson-hyperlegible-mono';
import './look/components';
import './look/theme.css';
import './look/base.css';

import { createPinia } from 'pinia';
import { createApp } from 'vue';

import App from './App.vue';
import { fetchScreens, router } from './router';

createApp(App).use(createPinia()).use(router).mount('#app');
void fetchScreens();
