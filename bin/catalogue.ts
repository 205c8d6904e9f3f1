// The stand-in collection of computed skies, on the port that is given; "npm start" keeps it with the demo.
import { startCatalogue } from '../demo/catalogue';

const { server } = await startCatalogue(Number(process.argv[2]));
const end = () => {
  server.close();
  process.exit(0);
};
process.on('SIGINT', end);
process.on('SIGTERM', end);
