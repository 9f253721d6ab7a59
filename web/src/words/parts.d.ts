declare module '@messages/en.json?part=*' {
  const tree: import('./i18n').Tree
  export default tree
}
