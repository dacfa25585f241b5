<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\RouterInterface;
use Ypomna\App\Shared\Software;

/** The door for programs, described from its code (OpenAPI 3.1): from the routes, what stands beside them, and the forms. */
final readonly class Description
{
    private const VARIABLES = [
        'code' => 'A code, as in a permanent address.', 'capture' => 'The code of a capture.',
        'kind' => 'What it is: address, capture or dossier.', 'one' => 'The code of a capture.', 'other' => 'The code of another.',
        'number' => 'The number of a version.', 'name' => 'The name of a tag, percent-coded.',
        'prefix' => 'The first five hex digits of the SHA-256 of an address as the URL Standard writes it, without its fragment.',
    ];

    public function __construct(private RouterInterface $router)
    {
    }

    /** @return array<string, mixed> */
    public function openApi(): array
    {
        $paths = [];
        foreach ($this->operations() as [$path, $method, $operation]) {
            $paths[$path][strtolower($method)] = $operation;
        }
        ksort($paths);

        return [
            'openapi' => '3.1.0',
            'info' => [
                'title' => 'Ypomna', 'version' => Software::VERSION,
                'description' => 'Texts are in NFC, moments in UTC (RFC 3339). What may not be seen is answered as what does not exist.'
                    .' A POST with the same Idempotency-Key within a day gives the first answer again. Lists go on at `next`.',
            ],
            'security' => [['token' => []]],
            'paths' => $paths,
            'components' => [
                'securitySchemes' => ['token' => ['type' => 'http', 'scheme' => 'bearer']],
                'schemas' => Schemas::all(),
            ],
        ];
    }

    /** @return list<array{string, string, array<string, mixed>}> path, method and operation, in the order of the paths */
    private function operations(): array
    {
        $operations = [];
        foreach ($this->router->getRouteCollection()->all() as $name => $route) {
            $controller = $route->getDefault('_controller');
            if (!str_starts_with($name, 'api_') || !\is_string($controller) || !str_contains($controller, '::')) {
                continue;
            }
            [$class, $function] = explode('::', $controller);
            $reflected = new \ReflectionMethod($class, $function);
            $told = ($reflected->getAttributes(Told::class)[0] ?? null)?->newInstance();
            $needs = ($reflected->getAttributes(Needs::class)[0] ?? null)?->newInstance();
            if (null === $told || null === $needs) {
                continue;
            }
            /** @var list<string> $variables */
            $variables = $route->compile()->getPathVariables();
            foreach ($route->getMethods() as $method) {
                $operations[] = [$route->getPath(), $method, self::operation($name, $method, $told, $needs, $variables)];
            }
        }

        return $operations;
    }

    /**
     * @param list<string> $variables
     *
     * @return array<string, mixed>
     */
    private static function operation(string $name, string $method, Told $told, Needs $needs, array $variables): array
    {
        $parameters = [];
        foreach ($variables as $variable) {
            $parameters[] = self::parameter($variable, 'path', self::VARIABLES[$variable] ?? $variable, true);
        }
        foreach ($told->query as $query => $what) {
            $parameters[] = self::parameter($query, 'query', $what, 'url' === $query);
        }
        if (\in_array(428, $told->also, true)) {
            $parameters[] = self::parameter('If-Match', 'header', 'The etag of the state that was read, in quotation marks.', true);
        }
        if ('POST' === $method) {
            $parameters[] = self::parameter('Idempotency-Key', 'header', 'Under it nothing is done twice within a day.', false);
        }
        $problem = ['content' => ['application/problem+json' => ['schema' => Schemas::ref('Problem')]]];
        $answers = [(string) $told->status => ['description' => $told->what] + (null === $told->body || 'HEAD' === $method ? [] : [
            'content' => [$told->answer => ['schema' => Schemas::ref($told->body)]],
        ])];
        foreach ([400, 401, 403, 404, 429, ...$told->also, ...(null === $told->takes ? [] : [413, 415, 422])] as $status) {
            $answers[(string) $status] = ['description' => Response::$statusTexts[$status] ?? ''] + $problem;
        }
        ksort($answers);

        return array_filter([
            'operationId' => $name.('HEAD' === $method ? '_head' : ''), 'summary' => $told->what,
            'description' => \sprintf(
                'Scope: %s. Right of the person: %s.', $needs->scope->value ?? 'any', $needs->right->value,
            ),
            'parameters' => $parameters,
            'requestBody' => null === $told->takes ? null : [
                'required' => true,
                'content' => [
                    $told->type => str_contains($told->type, 'octet') ? new \stdClass() : ['schema' => Schemas::ref($told->takes)],
                ],
            ],
            'responses' => $answers,
        ], static fn (mixed $one): bool => null !== $one && [] !== $one);
    }

    /** @return array<string, mixed> */
    private static function parameter(string $name, string $in, string $what, bool $isRequired): array
    {
        return ['name' => $name, 'in' => $in, 'description' => $what, 'required' => $isRequired, 'schema' => ['type' => 'string']];
    }
}
