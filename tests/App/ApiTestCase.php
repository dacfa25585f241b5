<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Opis\JsonSchema\Errors\ErrorFormatter;
use Opis\JsonSchema\Validator;
use Ypomna\App\Api\Description;
use Ypomna\App\Api\Schemas;
use Ypomna\App\People\Tokens;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;

/** Asks as programs do; each answer is held against the description. */
abstract class ApiTestCase extends AppTestCase
{
    protected const JSON = ['CONTENT_TYPE' => 'application/json'];

    protected string $keeper;
    protected string $reader;

    protected function setUp(): void
    {
        parent::setUp();
        self::forgetHowOften();
        $this->signOut();
        $this->keeper = $this->token('Ilse Varga', Role::Keeper);
        $this->reader = $this->token('Nerys Quill', Role::Reader);
    }

    /** @param list<Scope> $scopes */
    protected function token(string $name, Role $role, array $scopes = Scope::USUAL): string
    {
        return self::service(Tokens::class)->add(new Actor('The test'), $this->person($name, $role), $scopes, 300)[1];
    }

    /**
     * @param array<string, mixed>|null $body
     * @param array<string, string>     $fields
     *
     * @return array<string, mixed>
     */
    protected function ask(string $method, string $path, string $token, ?array $body = null, int $status = 200, array $fields = []): array
    {
        $this->raw(
            $method, $path, $token, null === $body ? '' : (string) json_encode((object) $body),
            $fields + (null === $body ? [] : self::JSON), $status,
        );
        /** @var array<string, mixed> $said */
        $said = json_decode($this->body(), true) ?? [];

        return $said;
    }

    /** @param array<string, string> $fields */
    protected function raw(string $method, string $path, string $token, string $body, array $fields, int $status): void
    {
        ob_start();
        $this->client->request($method, $path, server: ['HTTP_AUTHORIZATION' => 'Bearer '.$token] + $fields, content: $body);
        ob_end_clean();
        self::assertSame($status, $this->answered(), $method.' '.$path.': '.mb_strcut($this->body(), 0, 500));
        self::assertNull($this->client->getResponse()->headers->get('Set-Cookie'));
        if (str_starts_with($path, '/api/')) {
            $this->mustBeAsDescribed($method, $path, $status);
        }
    }

    /** Each answer is one that the description has, and of its form. */
    private function mustBeAsDescribed(string $method, string $path, int $status): void
    {
        /** @var array<string, array<string, array{responses: array<int|string, array{content?: array<string, mixed>}>}>> $paths */
        $paths = self::service(Description::class)->openApi()['paths'];
        foreach ($paths as $template => $operations) {
            $pattern = '~^'.preg_replace('~\{[a-z]+\}~', '[^/]+', $template).'$~D';
            $answers = $operations[strtolower($method)]['responses'] ?? null;
            if (null === $answers || 1 !== preg_match($pattern, explode('?', $path)[0])) {
                continue;
            }
            // With the last piece a file becomes work.
            if ('HEAD' === $method || (202 === $status && 'PATCH' === $method)) {
                return;
            }
            self::assertArrayHasKey($status, $answers, "{$method} {$path} does not answer {$status} by its description.");
            $content = $answers[$status]['content'] ?? [];
            self::assertSame([] === $content, '' === $this->body(), $path);
            foreach ($content as $type => $form) {
                self::assertSame($type, $this->header('Content-Type'));
                /** @var array{schema: array<string, string>} $form */
                $schema = ['components' => ['schemas' => Schemas::all()]] + $form['schema'];
                $schema = json_decode((string) json_encode($schema), false, 64, \JSON_THROW_ON_ERROR);
                self::assertIsObject($schema);
                $error = (new Validator(max_errors: 5))->validate(json_decode($this->body()), $schema)->error();
                self::assertNull($error, null === $error ? '' : json_encode((new ErrorFormatter())->format($error)).$this->body());
            }

            return;
        }
        self::fail($method.' '.$path.' is not described.');
    }

    /** @param array<string, mixed> $said */
    protected static function text(array $said, string $name): string
    {
        self::assertIsString($said[$name] ?? null);

        return $said[$name];
    }
}
