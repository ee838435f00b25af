export { BinPage as default } from '@/features/bin/BinPage';
