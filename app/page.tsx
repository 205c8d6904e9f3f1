import { Shelf } from '../studio';

export default function Page() {
  return <Shelf />;
}
