declare module '@messages/*' {
  const tree: import('./i18n').Tree
  export default tree
}
