import { ModelsView } from '@/features/models/models-view';

export const metadata = { title: 'Models' };

export default function ModelsPage() {
  return <ModelsView />;
}
