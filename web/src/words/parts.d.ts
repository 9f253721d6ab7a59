declare module '*.json?part=yard' {
  const tree: import('./i18n').Tree
  export default tree
}
