export { Who as default } from '@/features/person/Who';
