import js from '@eslint/js';
import globals from 'globals';

export default [
    { ignores: ['public/', 'vendor/', 'var/'] },
    js.configs.recommended,
    {
        files: ['assets/js/**/*.js'],
        languageOptions: { ecmaVersion: 2024, sourceType: 'module', globals: { ...globals.browser, htmx: 'readonly', Idiomorph: 'readonly' } },
        rules: { 'prefer-const': 'error', 'no-unused-vars': ['error', { ignoreRestSiblings: true }], 'no-unused-private-class-members': 'off', eqeqeq: 'error', 'no-var': 'error', curly: 'error' },
    },
    { files: ['tests/scripts/*.js'], languageOptions: { ecmaVersion: 2024, sourceType: 'module', globals: { ...globals.node } } },
    { files: ['assets/js/worklets/*.js'], languageOptions: { globals: { ...globals.audioWorklet } } },
];
