import Link from '@/ui/link';
import { Empty } from '@/ui/parts';

export default function NotFound() {
  return (
    <main className="px-4 py-8">
      <Empty title="Page not found">
        <p>
          This job or page does not exist, is in the trash, or is another person’s practice unit. Nothing else is
          affected.
        </p>
        <Link href="/" className="button">
          Back to the bench
        </Link>
      </Empty>
    </main>
  );
}
