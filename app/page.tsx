export default function Page() {
  return <p>Basil</p>;
}
