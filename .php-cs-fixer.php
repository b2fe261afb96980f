<?php

$finder = PhpCsFixer\Finder::create()
    ->in([__DIR__.'/core', __DIR__.'/src', __DIR__.'/tests', __DIR__.'/migrations', __DIR__.'/public'])
    ->append([__DIR__.'/bin/console', __DIR__.'/bin/engine', __DIR__.'/bin/shots', __DIR__.'/bin/supervise', __DIR__.'/bin/bench', __DIR__.'/config/compiled.php'])
    ->exclude('build');

return (new PhpCsFixer\Config())
    ->setRiskyAllowed(true)
    ->setParallelConfig(PhpCsFixer\Runner\Parallel\ParallelConfigFactory::detect())
    ->setRules(['@Symfony' => true, '@Symfony:risky' => true, 'phpdoc_to_comment' => false, 'single_line_throw' => false])
    ->setFinder($finder);
