<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\People\Pairings;
use Ypomna\App\People\PersonRepository;
use Ypomna\App\Shared\Role;

/** Browsers are paired by a code, and ended from either side. */
final class PairingTest extends ApiTestCase
{
    public function testACodeFromOnesOwnPageIsExchangedForATokenOnce(): void
    {
        $code = $this->code();
        // However it is typed.
        $paired = $this->pair(strtoupper(str_replace('-', ' ', $code)), "Chromium\non 1 December <b>");
        self::assertSame(['Ilse Varga', ['read', 'write', 'capture']], [$paired['person'], $paired['scopes']]);
        $token = self::text($paired, 'token');
        self::assertSame('Ilse Varga', $this->ask('GET', '/api/me', $token)['name'] ?? null);
        self::assertArrayHasKey('error', $this->pair($code, 'again', 403));
        $this->signIn('Ilse Varga', Role::Keeper);
        self::assertStringContainsString('Chromium on 1 December &lt;b&gt;', $this->get('/me'));
        self::assertStringNotContainsString($token, $this->body());
        $this->signOut();
        $this->ask('DELETE', '/api/me/token', $token, status: 204);
        $this->ask('GET', '/api/me', $token, status: 401);
    }

    public function testItIsEndedFromOnesOwnPageByNobodyElse(): void
    {
        $token = self::text($this->pair($this->code(), 'Chromium'), 'token');
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->get('/me');
        $id = (string) $this->client->getCrawler()->filter('#programs input[name=token]')->first()->attr('value');
        $this->signIn('Someone Else', Role::Keeper);
        $this->get('/me');
        $this->client->request('POST', '/me/token', ['_token' => $this->formToken(), 'token' => $id]);
        self::assertSame(404, $this->answered());
        $this->signOut();
        $this->ask('GET', '/api/me', $token);
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->get('/me');
        $this->client->request('POST', '/me/token', ['_token' => $this->formToken(), 'token' => $id]);
        self::assertSame(303, $this->answered());
        $this->signOut();
        $this->ask('GET', '/api/me', $token, status: 401);
    }

    public function testACodeHoldsForFiveMinutesAndTheLastOneAlone(): void
    {
        [$first, $second] = [$this->code(), $this->code()];
        $this->pair($first, 'x', 403);
        self::service(Connection::class)->executeStatement('UPDATE pairing SET made_at = made_at - INTERVAL 6 MINUTE');
        $this->pair($second, 'x', 403);
    }

    public function testNobodyGuessesIt(): void
    {
        $this->code();
        for ($i = 0; $i < 20; ++$i) {
            $this->pair('guess'.$i, 'x', 403);
        }
        $this->pair('guess', 'x', 429);
        self::assertGreaterThan(0, (int) $this->header('Retry-After'));
        self::forgetHowOften();
        $this->signOut();
        // A form of another site sends no JSON.
        $this->client->request('POST', '/pair', server: ['CONTENT_TYPE' => 'text/plain'], content: '{"code":"x"}');
        self::assertSame(400, $this->answered());
    }

    public function testOfWhoeverIsClosedNoCodeHolds(): void
    {
        $code = $this->code();
        self::service(Connection::class)->executeStatement('UPDATE person SET closed_at = made_at WHERE name = ?', ['Ilse Varga']);
        self::service(EntityManagerInterface::class)->clear();
        $this->pair($code, 'x', 403);
    }

    private function code(): string
    {
        $person = self::service(PersonRepository::class)->named('Ilse Varga');
        self::assertNotNull($person);

        return self::service(Pairings::class)->begin($person);
    }

    private function formToken(): string
    {
        return (string) $this->client->getCrawler()->filter('form[action="/me/zone"] input[name=_token]')->attr('value');
    }

    /** @return array<string, mixed> */
    private function pair(string $code, string $name, int $status = 201): array
    {
        $this->client->request('POST', '/pair', server: ['CONTENT_TYPE' => 'application/json'], content: (string) json_encode([
            'code' => $code, 'name' => $name,
        ]));
        self::assertSame($status, $this->answered(), $this->body());
        /** @var array<string, mixed> $said */
        $said = json_decode($this->body(), true);

        return $said;
    }
}
