import '../global.css';
import { Root } from '@/features/account/Root';

export default Root;
