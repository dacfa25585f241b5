<?php

declare(strict_types=1);

$folders = array_map(
    static fn (string $folder): string => __DIR__.'/'.$folder,
    ['core', 'src', 'standin', 'tests', 'migrations', 'public', 'bench'],
);
$finder = (new PhpCsFixer\Finder())
    ->in($folders)
    ->append([__DIR__.'/bin/ypomna', __DIR__.'/bin/check-lines', __DIR__.'/bin/make-layers', __FILE__]);

return (new PhpCsFixer\Config())
    ->setRiskyAllowed(true)
    ->setRules([
        '@Symfony' => true,
        '@Symfony:risky' => true,
        'declare_strict_types' => true,
        'native_function_invocation' => ['include' => ['@compiler_optimized'], 'scope' => 'namespaced', 'strict' => true],
        'phpdoc_to_comment' => false,
        'phpdoc_align' => false,
        'single_line_throw' => false,
        'no_multiline_whitespace_around_double_arrow' => false,
        'method_argument_space' => ['on_multiline' => 'ignore'],
        'ordered_class_elements' => ['order' => ['use_trait', 'case', 'constant_public', 'constant_protected', 'constant_private']],
    ])
    ->setFinder($finder);
