export { SmartEditorNew as default } from '@/features/question/SmartEditor';
