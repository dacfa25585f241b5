<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use PHPUnit\Framework\Attributes\DataProvider;
use Psr\Clock\ClockInterface;
use Symfony\Component\BrowserKit\Cookie;
use Symfony\Component\DomCrawler\Crawler;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Mime\Email;
use Ypomna\App\People\Message\SendReset;
use Ypomna\App\People\OnceLinks;
use Ypomna\App\People\PeopleLog;
use Ypomna\App\People\PeopleMail;
use Ypomna\App\People\PersonRepository;
use Ypomna\App\People\Value\LogLine;
use Ypomna\App\Shared\Role;
use Ypomna\Core\Account\TimeBasedCode;
use Ypomna\Tests\Support\TestClock;

/** Who gets in, who does not, and what those try who should not. */
final class SignInTest extends AppTestCase
{
    private const PASSWORD = 'a long enough one';

    protected function setUp(): void
    {
        parent::setUp();
        self::forgetHowOften();
        $this->signOut();
        $this->person('Ilse Varga', Role::Keeper, self::PASSWORD);
    }

    public function testByNameAndPassword(): void
    {
        $this->get('/captures?x=1');
        self::assertSame(302, $this->answered());
        self::assertSame('/sign-in?to=/captures?x%3D1', $this->header('Location'));
        $this->client->followRedirect();
        $before = $this->cookie();
        // Case, blanks and the form of accents do not matter.
        self::assertSame('/captures?x=1', $this->client->getCrawler()->filter('[name=to]')->attr('value'));
        self::assertSame(303, $this->try(' ilse  VARGA ', self::PASSWORD, '/captures?x=1'));
        self::assertSame('/captures?x=1', $this->header('Location'));
        self::assertNotSame($before, $this->cookie(), 'A session that somebody else may know is not the one that is signed in.');
        $this->get('/captures');
        self::assertSame(200, $this->answered());
        self::assertStringContainsString('Ilse Varga', $this->body());
        self::assertSame('Ilse Varga', $this->log()[0]->who);
    }

    #[DataProvider('wrong')]
    public function testWhatIsWrongIsSaidTheSameWay(string $name, string $password): void
    {
        $closed = $this->person('Closed', Role::Keeper, self::PASSWORD);
        self::service(Connection::class)->executeStatement('UPDATE person SET closed_at = NOW(6) WHERE id = ?', [$closed->id()]);
        self::service(EntityManagerInterface::class)->clear();
        $this->person('Without a password', Role::Administrator);
        self::assertSame(422, $this->try($name, $password));
        $alert = (new Crawler($this->body()))->filter('[role=alert]')->text();
        self::assertSame('The name or the password is wrong.', $alert);
        $this->get('/captures');
        self::assertSame(302, $this->answered());
    }

    /** @return iterable<string, array{string, string}> */
    public static function wrong(): iterable
    {
        yield 'password' => ['Ilse Varga', 'another one'];
        yield 'empty password' => ['Ilse Varga', ''];
        yield 'name' => ['Ilse Vargo', self::PASSWORD];
        yield 'no name' => ['', self::PASSWORD];
        yield 'pattern' => ['%', self::PASSWORD];
        yield 'closed' => ['Closed', self::PASSWORD];
        yield 'none chosen' => ['Without a password', ''];
        yield 'no text' => ["\xff\xfe", "\xff"];
        yield 'huge' => [str_repeat('x', 100_000), str_repeat('y', 100_000)];
        yield 'longer by what is cut' => ['Ilse Varga', self::PASSWORD.str_repeat('x', 2_000)];
    }

    public function testAThousandWrongPasswords(): void
    {
        $token = $this->token();
        $statuses = [];
        for ($i = 0; $i < 1_000; ++$i) {
            $this->client->request('POST', '/sign-in', ['_token' => $token, 'name' => 'Ilse Varga', 'password' => 'guess '.$i]);
            $statuses[] = $this->answered();
        }
        self::assertSame(array_merge(array_fill(0, 10, 422), array_fill(0, 990, 429)), $statuses);
        self::assertGreaterThan(0, (int) $this->header('Retry-After'));
        self::assertLessThanOrEqual(900, (int) $this->header('Retry-After'));
        // Not even the right one tells that it is.
        $throttled = strip_tags($this->body());
        self::assertSame(429, $this->try('Ilse Varga', self::PASSWORD));
        self::assertSame($throttled, strip_tags($this->body()));
        // Somebody that there is not is held up in the same way, and others are not.
        for ($i = 0; $i < 10; ++$i) {
            $this->try('Nobody At All', 'guess '.$i);
        }
        self::assertSame(429, $this->try('Nobody At All', 'guess'));
        $this->person('Tomas Okoye', Role::Custodian, self::PASSWORD);
        self::assertLessThanOrEqual(25, \count($this->log()), 'Attempts do not fill the log.');
    }

    public function testOtherSpellingsAreNoFurtherAttempts(): void
    {
        $spellings = [
            ['Ilse Varga', 'Ílse Varga', 'ilse  VARGA', "Ilse\u{a0}Varga"], ['Otto Quist', 'Ótto Quist', 'otto  QUIST', "Otto\u{a0}Quist"],
        ];
        foreach ($spellings as $spelt) {
            $statuses = [];
            for ($i = 0; $i < 3; ++$i) {
                foreach ($spelt as $typed) {
                    $statuses[] = $this->try($typed, 'guess');
                }
            }
            // Whether there is somebody of that name or not.
            self::assertSame(array_merge(array_fill(0, 10, 422), [429, 429]), $statuses, $spelt[0]);
        }
    }

    public function testFromManyNetworksANameIsHeldUpToo(): void
    {
        $token = $this->token();
        $statuses = [];
        for ($i = 0; $i < 60; ++$i) {
            $this->client->request(
                'POST', '/sign-in', ['_token' => $token, 'name' => 'Ilse Varga', 'password' => 'guess'],
                server: ['REMOTE_ADDR' => '10.0.1.'.$i],
            );
            $statuses[] = $this->answered();
        }
        self::assertSame([50, 10], array_values(array_count_values($statuses)));
        // A house has as many addresses of version 6 as it likes.
        for ($i = 0; $i < 210; ++$i) {
            $this->client->request(
                'POST', '/sign-in', ['_token' => $token, 'name' => 'Name '.$i, 'password' => 'guess'],
                server: ['REMOTE_ADDR' => '2001:db8::'.dechex($i)],
            );
        }
        self::assertSame(429, $this->answered());
    }

    #[DataProvider('elsewhere')]
    public function testNobodyIsLedElsewhere(string $to): void
    {
        $crawler = $this->client->request('GET', '/sign-in?to='.rawurlencode($to));
        self::assertSame('/', $crawler->filter('[name=to]')->attr('value'));
        $this->client->request('POST', '/sign-in', [
            '_token' => $this->token(), 'name' => 'Ilse Varga', 'password' => self::PASSWORD, 'to' => $to,
        ]);
        self::assertSame(303, $this->answered());
        self::assertSame('/', $this->header('Location'));
    }

    /** @return iterable<array{string}> */
    public static function elsewhere(): iterable
    {
        foreach (['//evil.test', 'https://evil.test/', '/\\evil.test', "/\t/evil.test", 'javascript:alert(1)', '/sign-out'] as $to) {
            yield [$to];
        }
    }

    public function testAForgedFormSignsNobodyIn(): void
    {
        foreach (['', 'guessed'] as $token) {
            $this->client->request('POST', '/sign-in', ['_token' => $token, 'name' => 'Ilse Varga', 'password' => self::PASSWORD]);
            self::assertSame(403, $this->answered());
        }
        $this->get('/captures');
        self::assertSame(302, $this->answered());
    }

    public function testAnotherHostNameIsNotAnswered(): void
    {
        $this->client->request('GET', '/sign-in/forgotten', server: ['HTTP_HOST' => 'evil.test']);
        self::assertSame(Response::HTTP_MISDIRECTED_REQUEST, $this->answered());
    }

    public function testARoleHoldsAtOnceAndAClosedPersonIsOut(): void
    {
        self::assertSame(303, $this->try('Ilse Varga', self::PASSWORD));
        $this->get('/import');
        self::assertSame(200, $this->answered());
        $database = self::service(Connection::class);
        $database->executeStatement("UPDATE person SET role = 'reader' WHERE name = 'Ilse Varga'");
        $this->get('/import');
        self::assertSame(403, $this->answered());
        $this->get('/captures');
        self::assertSame(200, $this->answered());
        $database->executeStatement("UPDATE person SET closed_at = NOW(6) WHERE name = 'Ilse Varga'");
        $this->get('/captures');
        self::assertSame(302, $this->answered());
        $database->executeStatement("UPDATE person SET closed_at = NULL WHERE name = 'Ilse Varga'");
        $database->executeStatement('DELETE FROM person_session');
        $this->get('/captures');
        self::assertSame(302, $this->answered());
    }

    public function testSessionsAreListedAndEnded(): void
    {
        $this->try('Ilse Varga', self::PASSWORD);
        $here = $this->cookie();
        $other = $this->signedInElsewhere();
        $crawler = $this->client->request('GET', '/me');
        self::assertCount(2, $crawler->filter('#sessions tbody tr'));
        $this->client->submit($crawler->filter('#sessions tbody form')->form());
        self::assertSame(303, $this->answered());
        $this->as($other);
        $this->get('/me');
        self::assertSame(302, $this->answered());
        $this->as($here);
        // A changed password ends the others.
        $third = $this->signedInElsewhere();
        $crawler = $this->client->request('GET', '/me');
        $form = $crawler->filter('form[action="/me/password"]')->form();
        $this->client->submit($form, ['old' => 'not it', 'password' => 'a new and long one']);
        self::assertSame(422, $this->answered());
        $this->client->submit($form, ['old' => self::PASSWORD, 'password' => 'short']);
        self::assertSame(422, $this->answered());
        $this->client->submit($form, ['old' => self::PASSWORD, 'password' => 'a new and long one']);
        self::assertSame(303, $this->answered());
        $this->get('/me');
        self::assertSame(200, $this->answered());
        $this->as($third);
        $this->get('/me');
        self::assertSame(302, $this->answered());
        self::assertSame(422, $this->try('Ilse Varga', self::PASSWORD));
        self::assertSame(303, $this->try('Ilse Varga', 'a new and long one'));
    }

    public function testAnothersSessionIsNotEnded(): void
    {
        $this->try('Ilse Varga', self::PASSWORD);
        $hash = (string) $this->client->request('GET', '/me')->filter('[name=session]')->count();
        self::assertSame('0', $hash);
        $all = self::service(Connection::class)->fetchFirstColumn('SELECT LOWER(HEX(hash)) FROM person_session');
        $own = $this->cookie();
        $this->signOut();
        $this->person('Mallory', Role::Keeper, self::PASSWORD);
        $this->try('Mallory', self::PASSWORD);
        $token = $this->client->request('GET', '/me')->filter('form[action="/me/password"] [name=_token]')->attr('value');
        foreach ([...$all, "x' OR 1=1 -- ", str_repeat('0', 64)] as $session) {
            $this->client->request('POST', '/me/sessions', ['_token' => $token, 'session' => $session]);
        }
        $this->as($own);
        $this->get('/me');
        self::assertSame(200, $this->answered());
    }

    public function testASessionThatIsNotUsedEnds(): void
    {
        $this->try('Ilse Varga', self::PASSWORD);
        TestClock::forward('6 days');
        $this->get('/me');
        self::assertSame(200, $this->answered());
        TestClock::forward('6 days');
        $this->get('/me');
        self::assertSame(200, $this->answered());
        TestClock::forward('8 days');
        $this->get('/me');
        self::assertSame(302, $this->answered());
    }

    public function testTheSecondStep(): void
    {
        $codes = $this->switchSecondStepOn();
        $secret = $this->secret;
        $this->signOut();
        self::assertSame(303, $this->try('Ilse Varga', self::PASSWORD));
        self::assertSame('/sign-in/code', $this->header('Location'));
        // The password alone opens nothing.
        $this->get('/captures');
        self::assertSame(302, $this->answered());
        TestClock::forward('1 minute');
        $code = TimeBasedCode::at($secret, intdiv(self::now(), 30));
        self::assertSame(422, $this->tryCode('000000' === $code ? '000001' : '000000'));
        self::assertSame(303, $this->tryCode($code));
        $this->get('/captures');
        self::assertSame(200, $this->answered());
        // The same code once more, as from over a shoulder.
        $this->signOut();
        $this->try('Ilse Varga', self::PASSWORD);
        self::assertSame(422, $this->tryCode($code));
        // A code on paper, once.
        self::assertSame(303, $this->tryCode(strtoupper(' '.$codes[3])));
        $this->signOut();
        $this->try('Ilse Varga', self::PASSWORD);
        self::assertSame(422, $this->tryCode($codes[3]));
    }

    public function testCodesAreNotGuessed(): void
    {
        $codes = $this->switchSecondStepOn();
        $this->signOut();
        $statuses = [];
        for ($i = 0; $i < 8; ++$i) {
            $this->try('Ilse Varga', self::PASSWORD);
            $statuses[] = $this->tryCode(\sprintf('%06d', $i));
        }
        self::assertSame([422, 422, 422, 422, 422, 429, 429, 429], $statuses);
        self::assertSame(429, $this->tryCode($codes[0]));
        // Whoever is too slow begins again.
        TestClock::forward('6 minutes');
        self::assertSame(303, $this->tryCode($codes[0]));
        self::assertSame('/sign-in?said=late', $this->header('Location'));
    }

    public function testSwitchingItOffWantsThePassword(): void
    {
        $this->switchSecondStepOn();
        $token = $this->client->request('GET', '/me')->filter('form[action="/me/recovery"] [name=_token]')->attr('value');
        $uri = 'http://'.self::HOST.'/me/second-step/end';
        $this->client->request('POST', $uri, ['_token' => $token, 'password' => 'not it']);
        self::assertSame(422, $this->answered());
        $this->client->request('POST', $uri, ['_token' => $token, 'password' => self::PASSWORD]);
        self::assertSame(303, $this->answered());
        $this->signOut();
        $this->try('Ilse Varga', self::PASSWORD);
        self::assertSame('/', $this->header('Location'));
    }

    public function testAForgottenPassword(): void
    {
        self::service(Connection::class)->executeStatement("UPDATE person SET mail = 'ilse@watchdog.test' WHERE name = 'Ilse Varga'");
        self::service(EntityManagerInterface::class)->clear();
        $said = [];
        foreach (['Ilse Varga', 'Nobody'] as $name) {
            $form = $this->client->request('GET', '/sign-in/forgotten');
            // The test's installation sends no mail: what is asked is taken all the same.
            $this->client->request('POST', '/sign-in/forgotten', ['_token' => $this->token(), 'name' => $name]);
            self::assertSame(200, $this->answered());
            $said[] = $this->body();
        }
        self::assertSame($said[0], $said[1]);
        $waiting = self::service(Connection::class)->fetchFirstColumn('SELECT body FROM queue_message');
        self::assertCount(
            2, array_filter($waiting, static fn (mixed $body): bool => \is_string($body) && str_contains($body, 'SendReset')),
        );
        self::service(PeopleMail::class)->sendReset(new SendReset('ilse@watchdog.test'));
        self::assertEmailCount(1);
        $mail = self::getMailerMessage();
        self::assertInstanceOf(Email::class, $mail);
        self::assertSame(1, preg_match('~/sign-in/link/([\w-]{43})~', (string) $mail->getTextBody(), $m));
        $elsewhere = $this->signedInElsewhere();
        $form = $this->client->request('GET', '/sign-in/link/'.$m[1])->filter('form')->form();
        $this->client->submit($form, ['password' => 'too']);
        self::assertSame(422, $this->answered());
        $this->client->submit($form, ['password' => 'remembered this time']);
        self::assertSame('/sign-in?said=changed', $this->header('Location'));
        $this->client->submit($form, ['password' => 'once more with this']);
        self::assertSame(410, $this->answered());
        $this->as($elsewhere);
        $this->get('/me');
        self::assertSame(302, $this->answered());
        self::assertSame(303, $this->try('Ilse Varga', 'remembered this time'));
    }

    public function testAnInvitationHoldsOnceAndForADay(): void
    {
        $this->signIn('Bram Hollis', Role::Administrator);
        $crawler = $this->client->request('GET', '/people');
        $form = $crawler->filter('form[action="/people/invite"]')->form();
        $links = [];
        foreach (['keeper', 'reader', 'reader'] as $role) {
            $this->client->submit($form, ['role' => $role]);
            self::assertSame(1, preg_match('~/sign-in/link/[\w-]{43}~', $this->body(), $m));
            $links[] = $m[0];
        }
        $this->signOut();
        $form = $this->client->request('GET', $links[0])->filter('form')->form();
        // What a form does not have, nobody is given.
        $this->client->request('POST', $links[0], $form->getPhpValues() + [
            'name' => 'Ilse Varga', 'password' => self::PASSWORD, 'role' => 'administrator',
        ]);
        self::assertSame(422, $this->answered(), 'The name is taken; the invitation still holds.');
        $this->client->request('POST', $links[0], [
            'name' => 'New Keeper', 'password' => self::PASSWORD, 'role' => 'administrator', 'madeBy' => 'x',
        ] + $form->getPhpValues());
        self::assertSame('/', $this->header('Location'));
        self::assertSame(Role::Keeper, self::service(PersonRepository::class)->named('New Keeper')?->role);
        $this->get('/people');
        self::assertSame(403, $this->answered());
        $this->signOut();
        $this->get($links[0]);
        self::assertSame(410, $this->answered());
        // Whoever invites must still be allowed to when the link is used.
        $database = self::service(Connection::class);
        $database->executeStatement("UPDATE person SET role = 'keeper' WHERE name = 'Bram Hollis'");
        self::service(EntityManagerInterface::class)->clear();
        $this->get($links[1]);
        self::assertSame(410, $this->answered());
        $database->executeStatement("UPDATE person SET role = 'administrator' WHERE name = 'Bram Hollis'");
        self::service(EntityManagerInterface::class)->clear();
        $this->get($links[1]);
        self::assertSame(200, $this->answered());
        TestClock::forward('25 hours');
        $this->get($links[1]);
        self::assertSame(410, $this->answered());
    }

    public function testTheFirstPersonIsMadeByALinkAndOnlyTheFirst(): void
    {
        $links = self::service(OnceLinks::class);
        $database = self::service(Connection::class);
        $database->executeStatement('DELETE FROM person');
        self::service(EntityManagerInterface::class)->clear();
        $old = $links->first();
        $key = $links->first();
        $this->get('/sign-in/link/'.$old);
        self::assertSame(410, $this->answered());
        $form = $this->client->request('GET', '/sign-in/link/'.$key)->filter('form')->form();
        $this->client->submit($form, ['name' => 'Bram Hollis', 'password' => self::PASSWORD]);
        self::assertSame(303, $this->answered());
        $this->get('/people');
        self::assertSame(200, $this->answered());
        self::assertNull($links->find($links->first()));
    }

    public function testTheLastAdministratorStays(): void
    {
        $this->signIn('Bram Hollis', Role::Administrator);
        $crawler = $this->client->request('GET', '/people');
        $row = $crawler->filter('table.people tbody tr')
            ->reduce(static fn (Crawler $one): bool => str_contains($one->text(), 'Bram Hollis'));
        foreach ([['act' => 'close'], ['act' => 'role', 'role' => 'reader']] as $act) {
            $this->client->request('POST', (string) $row->filter('form')->attr('action'), $act + [
                '_token' => $row->filter('[name=_token]')->attr('value'),
            ]);
            self::assertSame(422, $this->answered());
            self::assertStringContainsString('Bram Hollis is the only administrator.', $this->body());
        }
        $this->person('Second', Role::Administrator);
        $this->client->request('POST', (string) $row->filter('form')->attr('action'), [
            'act' => 'role', 'role' => 'custodian', '_token' => $row->filter('[name=_token]')->attr('value'),
        ]);
        self::assertSame(303, $this->answered());
        // It holds at once, and stands in the log.
        $this->get('/people/log');
        self::assertSame(403, $this->answered());
        $line = $this->log()[0];
        self::assertSame(['role-changed', 'Bram Hollis', 'Bram Hollis'], [$line->act->value, $line->who, $line->whom]);
    }

    public function testTheLogIsReadAndGivenOut(): void
    {
        $this->try('=cmd|"/c calc"!A1', 'x');
        $this->try('<script>alert(1)</script>', 'x');
        $this->signIn('Bram Hollis', Role::Administrator);
        $shown = $this->get('/people/log');
        self::assertStringNotContainsString('<script>alert', $shown);
        self::assertStringContainsString('wrong name or password', $shown);
        $csv = $this->get('/people/log.csv');
        self::assertStringContainsString("\"'=cmd|\"\"/c calc\"\"!A1\"", $csv);
        self::assertStringStartsWith('"at","act","who","whom","detail","network"', $csv);
    }

    public function testSigningOut(): void
    {
        $this->try('Ilse Varga', self::PASSWORD);
        $cookie = $this->cookie();
        $this->client->submit($this->client->request('GET', '/me')->filter('form[action="/sign-out"]')->form());
        self::assertSame('/sign-in?said=out', $this->header('Location'));
        $this->as($cookie);
        $this->get('/me');
        self::assertSame(302, $this->answered());
    }

    public function testAProxyInFrontSignsPeopleInIfItIsTrusted(): void
    {
        $_ENV['TRUSTED_PROXIES'] = '10.1.2.3';
        $_ENV['SIGN_IN_BY_PROXY'] = 'X-Remote-User';
        try {
            self::ensureKernelShutdown();
            $this->client = self::createClient([], ['HTTP_HOST' => self::HOST]);
            $this->client->disableReboot();
            $ask = function (string $from, string $name): int {
                $this->signOut();
                $this->client->request('GET', '/captures', server: [
                    'REMOTE_ADDR' => $from, 'HTTP_X_REMOTE_USER' => $name, 'REMOTE_USER' => $name,
                ]);

                return $this->answered();
            };
            self::assertSame(302, $ask('10.1.2.4', 'Ilse Varga'), 'Anybody can write a header field.');
            self::assertSame(302, $ask('10.1.2.3', 'Nobody'));
            self::assertSame(302, $ask('10.1.2.3', ''));
            self::assertSame(200, $ask('10.1.2.3', 'ILSE varga'));
            self::assertStringContainsString('Ilse Varga', $this->body());
            self::assertSame(['Ilse Varga', 'proxy'], [$this->log()[0]->who, $this->log()[0]->detail]);
            // It is one session, from request to request.
            $this->client->request('GET', '/captures', server: ['REMOTE_ADDR' => '10.1.2.3', 'HTTP_X_REMOTE_USER' => 'ilse varga']);
            $count = self::service(Connection::class)->fetchOne('SELECT COUNT(*) FROM person_session p JOIN person q ON q.id = p.person_id'
                ." WHERE q.name = 'Ilse Varga'");
            self::assertSame('1', \is_scalar($count) ? (string) $count : '');
            // Nobody is believed about the name of the host.
            $fields = ['REMOTE_ADDR' => '10.1.2.3', 'HTTP_X_FORWARDED_HOST' => 'evil.test'];
            $this->client->request('GET', '/sign-in/forgotten', server: $fields);
            self::assertStringNotContainsString('evil.test', $this->body());
            self::service(Connection::class)->executeStatement('UPDATE person SET closed_at = NOW(6)');
            self::service(EntityManagerInterface::class)->clear();
            self::assertSame(302, $ask('10.1.2.3', 'Ilse Varga'));
        } finally {
            unset($_ENV['TRUSTED_PROXIES'], $_ENV['SIGN_IN_BY_PROXY']);
        }
    }

    public function testMomentsAreShownInTheZoneThatSomebodyChose(): void
    {
        $this->try('Ilse Varga', self::PASSWORD);
        $this->client->getCookieJar()->set(new Cookie('zone', 'Europe/Athens'));
        self::assertMatchesRegularExpression('/\d EES?T</', $this->get('/me'));
        $form = $this->client->request('GET', '/me')->filter('form[action="/me/zone"]')->form();
        $this->client->submit($form, ['zone' => 'Asia/Tokyo']);
        self::assertSame(303, $this->answered());
        self::assertStringContainsString(' JST<', $this->get('/me'));
        $this->client->request('POST', '/me/zone', ['zone' => 'Moon/<Crater>'] + $form->getPhpValues());
        self::assertSame(422, $this->answered());
        self::assertStringNotContainsString('<Crater>', $this->body());
        $this->client->submit($form, ['zone' => '']);
        self::assertMatchesRegularExpression('/\d EES?T</', $this->get('/me'));
    }

    public function testScreensAreInTheLanguageThatSomebodyChose(): void
    {
        $this->try('Ilse Varga', self::PASSWORD);
        self::assertStringContainsString('<h1>Favourites</h1>', $this->get('/favourites'));
        $this->client->request('GET', '/favourites', server: ['HTTP_ACCEPT_LANGUAGE' => 'el-GR,el;q=0.9,en;q=0.5']);
        self::assertStringContainsString('<h1>Αγαπημένα</h1>', $this->body());
        self::assertStringContainsString('<html lang="el">', $this->body());
        $this->client->submit($this->client->request('GET', '/me')->filter('form[action="/me/language"]')->form(), ['language' => 'el']);
        self::assertSame('/me#language', $this->header('Location'));
        $body = $this->get('/favourites');
        self::assertStringContainsString('<h1>Αγαπημένα</h1>', $body);
        // What is not translated yet is there in English.
        self::assertStringContainsString('No favourites yet', $body);
        self::assertMatchesRegularExpression('~<time [^>]+>\d+ \p{Greek}+\.? \d{4}, ~u', $this->get('/me'));
        $form = $this->client->request('GET', '/me')->filter('form[action="/me/language"]')->form();
        foreach (['xx', '../el', str_repeat('e', 300)] as $wrong) {
            $this->client->request('POST', '/me/language', ['language' => $wrong] + $form->getPhpValues());
            self::assertSame(422, $this->answered());
        }
        $this->client->request('POST', '/me/language', ['language' => ''] + $form->getPhpValues());
        self::assertStringContainsString('<h1>Favourites</h1>', $this->get('/favourites'));
    }

    public function testTheFeedHasAKeyThatOpensNothingElseAndIsRenewed(): void
    {
        $this->try('Ilse Varga', self::PASSWORD);
        $key = (string) preg_replace('~^.*key=~', '', $this->client->request('GET', '/me')->filter('#feed code')->text());
        $own = $this->cookie();
        $this->signOut();
        foreach (['' => 302, $key.'0' => 302, substr($key, 0, 12) => 302, strrev($key) => 302, $key => 200] as $shown => $status) {
            $this->get('/events.atom?key='.$shown);
            self::assertSame($status, $this->answered(), $shown);
        }
        self::assertNull($this->client->getResponse()->headers->get('Set-Cookie'));
        foreach (['/events', '/captures', '/me'] as $path) {
            $this->get($path.'?key='.$key);
            self::assertSame(302, $this->answered(), $path);
        }
        $this->as($own);
        $this->client->submit($this->client->request('GET', '/me')->filter('form[action="/me/feed"]')->form());
        $this->signOut();
        $this->get('/events.atom?key='.$key);
        self::assertSame(302, $this->answered());
    }

    public function testAReaderIsOfferedNothingThatWouldBeRefused(): void
    {
        $this->signIn('Nerys Quill', Role::Reader);
        foreach (['/', '/captures', '/references', '/events', '/watches', '/archives', '/holdings/alive', '/me'] as $path) {
            $crawler = $this->client->request('GET', $path);
            self::assertSame(200, $this->answered(), $path);
            $acts = $crawler->filter('form[method=post]')->each(static fn (Crawler $form): string => (string) $form->attr('action'));
            $theirs = '~^/(?:me|sign-out|events|favourites)(?:/|$)~';
            $own = array_filter($acts, static fn (string $act): bool => 1 !== preg_match($theirs, $act));
            self::assertSame([], $own, $path);
            $links = $crawler->filter('a[href^="/"]')->each(static fn (Crawler $a): string => (string) $a->attr('href'));
            foreach (array_unique($links) as $link) {
                $this->get($link);
                self::assertNotSame(403, $this->answered(), $path.' offers '.$link);
            }
        }
    }

    private string $secret = '';

    /** @return list<string> the codes on paper */
    private function switchSecondStepOn(): array
    {
        $this->try('Ilse Varga', self::PASSWORD);
        $form = $this->client->request('GET', '/me')->filter('form[action="/me/second-step"]')->form();
        $this->client->submit($form, ['password' => 'not it']);
        self::assertSame(422, $this->answered());
        $this->client->submit($form, ['password' => self::PASSWORD]);
        $crawler = $this->client->followRedirect();
        self::assertStringStartsWith('data:image/svg+xml;base64,', (string) $crawler->filter('img.qr')->attr('src'));
        $this->secret = self::bytes((string) preg_replace('/\s+/', '', $crawler->filter('code.secret')->text()));
        $form = $crawler->filter('form[action="/me/second-step/begin"]')->form();
        $this->client->submit($form, ['code' => '12345']);
        self::assertSame(422, $this->answered());
        $crawler = $this->client->submit($form, [
            'code' => TimeBasedCode::at($this->secret, intdiv(self::now(), 30)),
        ]);
        self::assertSame(200, $this->answered());
        self::assertStringContainsString('no-store', $this->header('Cache-Control'));
        $codes = $crawler->filter('.recovery code')->each(static fn (Crawler $code): string => $code->text());
        self::assertCount(10, array_unique($codes));

        return array_values($codes);
    }

    private static function now(): int
    {
        return self::service(ClockInterface::class)->now()->getTimestamp();
    }

    private static function bytes(string $base32): string
    {
        $bits = '';
        foreach (str_split($base32) as $letter) {
            $bits .= str_pad(decbin((int) strpos('ABCDEFGHIJKLMNOPQRSTUVWXYZ234567', $letter)), 5, '0', \STR_PAD_LEFT);
        }

        return implode('', array_map(static fn (string $byte): string => \chr((int) bindec($byte)), array_filter(
            str_split($bits, 8), static fn (string $byte): bool => 8 === \strlen($byte),
        )));
    }

    private function token(): string
    {
        return (string) $this->client->request('GET', '/sign-in')->filter('[name=_token]')->attr('value');
    }

    private function try(string $name, string $password, string $to = '/'): int
    {
        $this->client->request('POST', '/sign-in', ['_token' => $this->token(), 'name' => $name, 'password' => $password, 'to' => $to]);

        return $this->answered();
    }

    private function tryCode(string $code): int
    {
        $crawler = $this->client->request('GET', '/sign-in/code');
        $token = $crawler->filter('[name=_token]');
        $this->client->request('POST', '/sign-in/code', [
            '_token' => $token->count() > 0 ? $token->attr('value') : $this->token(), 'code' => $code,
        ]);

        return $this->answered();
    }

    private function cookie(): string
    {
        return (string) $this->client->getCookieJar()->get('MOCKSESSID')?->getValue();
    }

    private function as(string $cookie): void
    {
        $this->signOut();
        $this->client->getCookieJar()->set(new Cookie('MOCKSESSID', $cookie));
    }

    /** @return string the cookie of another session of the same person; this one stays */
    private function signedInElsewhere(): string
    {
        $here = $this->cookie();
        $this->signOut();
        $this->client->request('GET', '/sign-in');
        $this->try('Ilse Varga', self::PASSWORD);
        $there = $this->cookie();
        $this->as($here);

        return $there;
    }

    /** @return list<LogLine> */
    private function log(): array
    {
        return self::service(PeopleLog::class)->page();
    }
}
