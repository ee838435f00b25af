export { Runs as default } from '@/features/run/Runs';
