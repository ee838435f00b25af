export { WhatWasDone as default } from '@/features/acts/WhatWasDone';
