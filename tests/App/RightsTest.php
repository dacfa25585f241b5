<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Ypomna\App\People\Account;
use Ypomna\App\People\PersonChanges;
use Ypomna\App\People\Sessions;
use Ypomna\App\Replay\PageHosts;
use Ypomna\App\Replay\ReplayMode;
use Ypomna\App\Replay\SessionRights;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Tests\Support\WarcBuilder;

/** The hosts at which archived pages are read: a right of one session to one capture. */
final class RightsTest extends AppTestCase
{
    private const PAGE = 'http://lantern.test/a';

    private string $code;

    protected function setUp(): void
    {
        parent::setUp();
        $this->takeIn(
            (new WarcBuilder('a'))->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<p>as it was')
                ->exchange('http://lantern.test/b', '2024-11-03T10:00:01Z', '<p>the other'),
        );
        $this->code = $this->captureOf(self::PAGE)->code;
    }

    public function testTheNameAloneIsTheRight(): void
    {
        $account = $this->signIn('Ilse Varga', Role::Keeper);
        $label = self::rights()->label($account->viewer(), $this->code);
        self::assertMatchesRegularExpression('/^[a-z2-7]{26}$/D', $label);
        self::assertSame($label, self::rights()->label($account->viewer(), $this->code));
        $this->signOut();
        self::assertStringContainsString('as it was', $this->at($label));
        self::assertSame(200, $this->answered());
        self::assertSame('', $this->header('Set-Cookie'));
    }

    public function testItIsOfOneSessionAndOneCapture(): void
    {
        $one = $this->signIn('Ilse Varga', Role::Keeper);
        $other = self::service(Sessions::class)->begin($this->person('Ilse Varga', Role::Keeper));
        $labels = [
            self::rights()->label($one->viewer(), $this->code), self::rights()->label($other->viewer(), $this->code),
            self::rights()->label($one->viewer(), $this->captureOf('http://lantern.test/b')->code),
            self::rights()->label(Viewer::nobody(), $this->code),
        ];
        self::assertCount(4, array_unique($labels));
        self::service(Sessions::class)->endOwn($one);
        $this->gone($labels[0]);
        self::assertStringContainsString('as it was', $this->at($labels[1]));
    }

    public function testItEndsWithWhatItWasMadeFor(): void
    {
        $ends = [
            static fn (Account $account) => self::service(Sessions::class)->endAll($account->person),
            fn () => self::service(PersonChanges::class)->close(new Actor('The test'), $this->person('Ilse Varga', Role::Keeper)),
        ];
        foreach ($ends as $n => $end) {
            $account = self::service(Sessions::class)->begin($this->person('Ilse Varga', Role::Keeper));
            $label = self::rights()->label($account->viewer(), $this->code);
            self::assertStringContainsString('as it was', $this->at($label), (string) $n);
            $end($account);
            $this->gone($label);
        }
    }

    public function testNothingElseIsOne(): void
    {
        $label = $this->label($this->code);
        $wrong = [
            $this->code, str_repeat('a', 26), substr($label, 1).'a', strrev($label), $label.'a', substr($label, 1),
            str_repeat('a', 40), 'x',
        ];
        foreach ($wrong as $one) {
            foreach (['', '-s', '-o', '-so'] as $mark) {
                $this->gone($one.$mark);
            }
        }
        // Nobody who has not signed in reads here, so their right is none.
        $this->gone(self::rights()->label(Viewer::nobody(), $this->code));
        self::service(Connection::class)->executeStatement('DELETE FROM reading_right');
        $this->gone($label);
    }

    public function testWithAnotherSecretItCannotBeComputed(): void
    {
        $viewer = $this->signIn('Ilse Varga', Role::Keeper)->viewer();
        $other = new SessionRights(self::service(Connection::class), self::service(Sessions::class), 'guessed', 'off');
        self::assertNotSame(self::rights()->label($viewer, $this->code), $other->label($viewer, $this->code));
    }

    public function testALinkLeadsToAnotherCaptureByARightOfItsOwn(): void
    {
        $this->takeIn((new WarcBuilder('c'))->exchange('http://lantern.test/c', '2024-11-04T10:00:00Z', '<p>later'), 'c.warc.gz');
        $label = $this->label($this->code);
        $this->client->request(
            'GET', '/c', server: ['HTTP_HOST' => self::pageHost('http://lantern.test/', $label), 'HTTP_SEC_FETCH_DEST' => 'iframe'],
        );
        $host = (new PageHosts('localhost'))->hostOf(
            Url::parse('http://lantern.test/c'), $this->label($this->captureOf('http://lantern.test/c')->code), ReplayMode::Alive,
        );
        self::assertSame('http://'.$host.':8020/c', $this->header('Location'));
    }

    private static function rights(): SessionRights
    {
        return self::service(SessionRights::class);
    }

    /** It answers as one that never was. */
    private function gone(string $label): void
    {
        $said = $this->at($label);
        self::assertSame(404, $this->answered(), $label);
        self::assertSame("There is no such capture.\n", $said);
    }

    private function at(string $label): string
    {
        ob_start();
        $this->client->request(
            'GET', '/a', server: ['HTTP_HOST' => self::pageHost('http://lantern.test/', $label), 'HTTP_SEC_FETCH_DEST' => 'iframe'],
        );
        ob_end_clean();

        return $this->body();
    }
}
