<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Tester\CommandTester;
use Ypomna\App\People\Tokens;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\Tests\Support\TestClock;

/** The door for programs: tokens, errors, and what is tried with other people's. */
final class ApiTest extends AppTestCase
{
    private string $secret;
    private string $id;

    protected function setUp(): void
    {
        parent::setUp();
        self::forgetHowOften();
        $this->signOut();
        [$token, $this->secret] = self::service(Tokens::class)
            ->add(new Actor('The test'), $this->person('Ilse Varga', Role::Keeper), Scope::USUAL, 30);
        $this->id = $token->id;
    }

    public function testAProgramIsToldWhoItIs(): void
    {
        self::assertSame(200, $this->ask('GET', '/api/me', $this->secret));
        self::assertSame(['name' => 'Ilse Varga', 'role' => 'keeper', 'scopes' => ['read', 'write', 'capture']], $this->said());
        self::assertStringStartsWith('application/json', $this->header('Content-Type'));
        self::assertNull($this->client->getResponse()->headers->get('Set-Cookie'));
    }

    #[DataProvider('noTokens')]
    public function testWithoutAGoodTokenNothingIsTold(string $field): void
    {
        $said = [];
        foreach (['/api/me', '/api/no/such/thing', '/api/captures/222222222222'] as $path) {
            foreach (['GET', 'POST', 'DELETE'] as $method) {
                $this->client->request($method, $path, server: ['HTTP_AUTHORIZATION' => str_replace('SECRET', $this->secret, $field)]);
                self::assertSame(401, $this->answered(), $method.' '.$path);
                self::assertSame('Bearer', $this->header('WWW-Authenticate'));
                self::assertSame('application/problem+json', $this->header('Content-Type'));
                $said[] = $this->body();
            }
        }
        self::assertCount(1, array_unique($said));
        self::assertSame(
            ['type' => 'about:blank', 'title' => 'Unauthorized', 'status' => 401,
                'detail' => 'A token is needed in the Authorization field: Bearer TOKEN.'],
            $this->said(),
        );
    }

    /** @return iterable<string, array{string}> */
    public static function noTokens(): iterable
    {
        yield 'none' => [''];
        yield 'empty' => ['Bearer '];
        yield 'another' => ['Bearer ypomna_AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA'];
        yield 'part of it' => ['Bearer ypomna_'];
        yield 'more than it' => ['Bearer SECRETx'];
        yield 'another scheme' => ['Basic SECRET'];
        yield 'without a scheme' => ['SECRET'];
        yield 'no text' => ["Bearer \xff\xfe"];
        yield 'huge' => ['Bearer '.str_repeat('a', 100_000)];
    }

    public function testATokenInAnAddressOrAFormOpensNothing(): void
    {
        foreach (['access_token', 'token', 'bearer', 'key'] as $name) {
            self::assertSame(401, $this->ask('GET', '/api/me?'.$name.'='.$this->secret));
        }
        $this->client->request('POST', '/api/me', ['access_token' => $this->secret]);
        self::assertSame(401, $this->answered());
    }

    public function testACookieCountsForNothingThereAndATokenForNothingElsewhere(): void
    {
        $this->signIn('Tomas Okoye', Role::Custodian);
        self::assertSame(401, $this->ask('GET', '/api/me'));
        $this->signOut();
        self::assertSame(302, $this->ask('GET', '/captures', $this->secret));
    }

    public function testARoleHoldsAtOnceAndWhatIsEndedIsEnded(): void
    {
        $database = self::service(Connection::class);
        $database->executeStatement("UPDATE person SET role = 'reader' WHERE name = 'Ilse Varga'");
        self::assertSame(200, $this->ask('GET', '/api/me', $this->secret));
        self::assertSame('reader', $this->said()['role'] ?? null);
        $database->executeStatement("UPDATE person SET closed_at = NOW(6) WHERE name = 'Ilse Varga'");
        self::assertSame(401, $this->ask('GET', '/api/me', $this->secret));
        $database->executeStatement("UPDATE person SET closed_at = NULL WHERE name = 'Ilse Varga'");
        self::assertSame(200, $this->ask('GET', '/api/me', $this->secret));
        TestClock::forward('31 days');
        self::assertSame(401, $this->ask('GET', '/api/me', $this->secret));
        TestClock::reset();
        self::service(Tokens::class)->end(new Actor('The test'), $this->id);
        self::assertSame(401, $this->ask('GET', '/api/me', $this->secret));
    }

    public function testTheTokenItselfIsNotKept(): void
    {
        $kept = json_encode(
            self::service(Connection::class)->fetchAllAssociative('SELECT id, HEX(hash) AS hash, scopes FROM person_token'),
            \JSON_THROW_ON_ERROR,
        );
        self::assertStringNotContainsString(substr($this->secret, 7), $kept);
        self::assertStringContainsString(strtoupper(hash('sha256', $this->secret)), $kept);
    }

    public function testWhatThereIsNotAndOtherMethods(): void
    {
        foreach (['/api/nothing', '/api/me/more', '/api/%ff', '/api/../captures'] as $path) {
            self::assertSame(404, $this->ask('GET', $path, $this->secret), $path);
            self::assertSame('application/problem+json', $this->header('Content-Type'), $path);
        }
        foreach (['POST', 'PUT', 'PATCH', 'DELETE', 'FOO'] as $method) {
            self::assertSame(405, $this->ask($method, '/api/me', $this->secret), $method);
            self::assertSame('GET', $this->header('Allow'));
        }
    }

    public function testWhoeverAsksTooOftenWaits(): void
    {
        $refused = 0;
        for ($i = 0; $i < 405; ++$i) {
            $refused += (int) (429 === $this->ask('GET', '/api/me', $this->secret));
        }
        self::assertSame(5, $refused);
        self::assertGreaterThan(0, (int) $this->header('Retry-After'));
        self::assertSame('application/problem+json', $this->header('Content-Type'));
        // Another program is not held up by it.
        [, $other] = self::service(Tokens::class)
            ->add(new Actor('The test'), $this->person('Ilse Varga', Role::Keeper), [Scope::Read], null);
        self::assertSame(200, $this->ask('GET', '/api/me', $other));
    }

    public function testTheCommands(): void
    {
        $add = $this->command('person:add', ['name' => 'Nora Dell', '--role' => 'reader', '--mail' => 'nora@watchdog.test']);
        self::assertMatchesRegularExpression('~Nora Dell is a reader now\.\n.*/sign-in/link/[\w-]{43}\n~s', $add->getDisplay());
        self::assertSame(1, $this->command('person:add', ['name' => 'nora dell', '--role' => 'reader'])->getStatusCode());
        self::assertSame(1, $this->command('person:add', ['name' => 'Other', '--role' => 'king'])->getStatusCode());
        self::assertSame(1, $this->command('person:add', ['name' => '<b>', '--role' => 'reader'])->getStatusCode());
        $made = json_decode($this->command('token:add', ['name' => 'Nora Dell', '--json' => true])->getDisplay(), true);
        self::assertIsArray($made);
        self::assertSame(['id', 'token', 'scopes', 'expires'], array_keys($made));
        self::assertSame([['read', 'write', 'capture'], null], [$made['scopes'], $made['expires']]);
        self::assertIsString($made['token']);
        self::assertSame(200, $this->ask('GET', '/api/me', $made['token']));
        self::assertSame('Nora Dell', $this->said()['name'] ?? null);
        $short = json_decode($this->command('token:add', [
            'name' => 'Nora Dell', '--scope' => ['export', 'read', 'read'], '--days' => '2', '--json' => true,
        ])->getDisplay(), true);
        self::assertIsArray($short);
        self::assertSame(['export', 'read'], $short['scopes']);
        self::assertIsString($short['expires']);
        self::assertMatchesRegularExpression('/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{6}Z$/', $short['expires']);
        foreach ([['--scope' => ['all']], ['--days' => '0'], ['--days' => 'x'], ['--days' => '99999']] as $wrong) {
            self::assertSame(1, $this->command('token:add', ['name' => 'Nora Dell'] + $wrong)->getStatusCode());
        }
        self::assertSame(1, $this->command('token:add', ['name' => 'Nobody'])->getStatusCode());
        self::assertSame(0, $this->command('token:end', ['id' => $made['id']])->getStatusCode());
        self::assertSame(1, $this->command('token:end', ['id' => $made['id']])->getStatusCode());
        self::assertSame(401, $this->ask('GET', '/api/me', $made['token']));
        $nora = ['name' => 'Nora Dell'];
        self::assertSame("Nora Dell is a keeper now.\n", $this->command('person:role', $nora + ['role' => 'keeper'])->getDisplay());
        self::assertSame("Nora Dell is closed now.\n", $this->command('person:close', $nora)->getDisplay());
        self::assertSame(1, $this->command('token:add', ['name' => 'Nora Dell'])->getStatusCode());
        self::assertSame("Nora Dell is open now.\n", $this->command('person:close', $nora + ['--undo' => true])->getDisplay());
    }

    /** @param array<string, mixed> $given */
    private function command(string $name, array $given): CommandTester
    {
        $kernel = self::$kernel;
        self::assertNotNull($kernel);
        $tester = new CommandTester((new Application($kernel))->find($name));
        $tester->execute($given);

        return $tester;
    }

    private function ask(string $method, string $path, string $secret = ''): int
    {
        $this->client->request($method, $path, server: '' === $secret ? [] : ['HTTP_AUTHORIZATION' => 'Bearer '.$secret]);

        return $this->answered();
    }

    /** @return array<mixed> */
    private function said(): array
    {
        $read = json_decode($this->body(), true, 16, \JSON_THROW_ON_ERROR);

        return \is_array($read) ? $read : [];
    }
}
