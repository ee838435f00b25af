export { AtHand as default } from '@/features/pin/AtHand';
