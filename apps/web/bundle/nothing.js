// Stands in for parts of expo-router that no page has: stacks of native screens, a page that lists pages, previews, notes for developers.
const Nothing = () => null;

module.exports = {
  HrefPreview: Nothing,
  Sitemap: Nothing,
  Toast: Nothing,
  ToastWrapper: Nothing,
  createNativeStackNavigator: () => ({ Navigator: Nothing, Screen: Nothing, Group: Nothing }),
  initScreensFeatureFlags: () => undefined,
  isNativeTabTrigger: () => false,
};
