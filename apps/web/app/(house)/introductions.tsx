export { Introductions as default } from '@/features/person/Introductions';
