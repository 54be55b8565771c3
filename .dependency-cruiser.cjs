const folderOf = (...names) => `^(${names.join('|')})/`;
const STAGES = 'model|unwrap|block-in|form|paint|match|deliver';
const CORE =
  'math|mesh|motion|picture|compositor|project-file|proposals|color|surface|cues|light|unwrap|paint|composite|pixels|layers|decal|pattern|region|brushwork|ink|ramps|match|document|history|model|formats|engine|kernels|delivery|atlas|set|follow|commands';

/** The direction of docs/architecture.md: core <- storage <- workers <- app; core <- jobs <- server, cli; core <- demo, bench. */
module.exports = {
  forbidden: [
    {
      name: 'core-stands-alone',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { path: folderOf('app', 'workers', 'storage', 'jobs', 'server', 'cli', 'demo', 'bench', 'tests') },
    },
    {
      name: 'core-knows-no-browser-and-no-node',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: {
        path: '^(node_modules/(three|react|react-dom|dexie|zustand)|node:)',
        dependencyTypesNot: ['type-only'],
      },
    },
    {
      name: 'core-uses-no-node-module',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'workers-know-no-interface',
      severity: 'error',
      from: { path: '^(workers|storage)/', pathNot: '\\.test\\.ts$' },
      to: { path: folderOf('app', 'jobs', 'server', 'cli', 'demo', 'bench') },
    },
    {
      name: 'storage-knows-no-worker',
      severity: 'error',
      from: { path: '^storage/', pathNot: '\\.test\\.ts$' },
      to: { path: '^workers/' },
    },
    {
      name: 'outer-folders-stand-apart',
      severity: 'error',
      from: { path: folderOf('server', 'cli', 'jobs', 'demo'), pathNot: '\\.test\\.ts$' },
      to: { path: folderOf('app', 'workers', 'storage') },
    },
    {
      name: 'server-and-command-line-share-jobs-only',
      severity: 'error',
      from: { path: '^(server|jobs)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^cli/' },
    },
    {
      name: 'command-line-knows-no-server',
      severity: 'error',
      from: { path: '^(cli|jobs)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^server/' },
    },
    {
      name: 'core-folders-by-their-index',
      comment: 'From outside the core, its folders are entered by their index.ts only.',
      severity: 'error',
      from: { path: '^(app|workers|storage|jobs|cli|demo|server|bench)/', pathNot: '\\.test\\.ts$' },
      to: { path: `^core/(${CORE})/`, pathNot: `^core/(${CORE})/index\\.ts$` },
    },
    {
      name: 'core-inside-a-folder',
      comment:
        'Within its own folder of the core a module may name any other; from elsewhere only the index.',
      severity: 'error',
      from: { path: `^core/(${CORE})/` },
      to: { path: `^core/(${CORE})/`, pathNot: [`^core/$1/`, `^core/(${CORE})/index\\.ts$`] },
    },
    {
      name: 'stages-stand-apart',
      comment: 'Only the shell composes stages.',
      severity: 'error',
      from: { path: `^app/(${STAGES})/` },
      to: { path: `^app/(${STAGES}|shell)/`, pathNot: '^app/$1/' },
    },
    {
      name: 'app-folders-by-their-index',
      comment:
        'A stage is entered by its stage.tsx, which is fetched when it is first needed; what is needed always is in index.ts.',
      severity: 'error',
      from: { path: '^app/([^/]+)/' },
      to: {
        path: `^app/(${STAGES}|viewport|easel|build-up)/`,
        pathNot: ['^app/$1/', '/(index|stage)\\.tsx?$'],
      },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: 'core/kernels/assembly' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.js', '.json'] },
  },
};
