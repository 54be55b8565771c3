import fc from 'fast-check';

// The same examples in every run: a failure here is a failure everywhere.
fc.configureGlobal({ seed: 20261125, numRuns: 200 });
