import { commandLine } from './commandLine';

// Whoever reads what is printed may have enough of it.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit(0);
});

process.exitCode = await commandLine(process.argv.slice(2));
