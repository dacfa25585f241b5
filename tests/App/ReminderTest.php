<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Psr\EventDispatcher\EventDispatcherInterface;
use Sabre\VObject\Component\VCalendar;
use Sabre\VObject\Reader;
use Symfony\Bundle\FrameworkBundle\Test\MailerAssertionsTrait;
use Ypomna\App\Capture\Event\CaptureEnded;
use Ypomna\App\Desk\ItemLinks;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Reminders;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\People\PersonRepository;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

/** What is due: reminders, a calendar, and pages that are captured again. */
final class ReminderTest extends ApiTestCase
{
    use MailerAssertionsTrait;

    private const PAGE = 'http://lantern.test/a';

    public function testWhoeverSetADayIsRemindedOnceByMail(): void
    {
        $person = self::service(PersonRepository::class)->named('Ilse Varga');
        self::assertNotNull($person);
        $person->mail = 'ilse@saltmarch.example';
        $today = gmdate('Y-m-d');
        $due = $this->make(['title' => "Ask\r\nBcc: all", 'due' => $today]);
        $this->make(['title' => 'Next week', 'due' => gmdate('Y-m-d', time() + 7 * 86_400)]);
        $this->make(['title' => 'Long ago', 'due' => '2020-01-01']);
        $reminders = self::service(Reminders::class);
        $reminders->look();
        $reminders->look();
        self::assertEmailCount(1);
        $mail = self::getMailerMessage();
        self::assertNotNull($mail);
        self::assertEmailTextBodyContains($mail, '/items/'.self::text($due, 'code'));
        self::assertEmailTextBodyNotContains($mail, 'Next week');
        self::assertSame(1, self::service(Connection::class)->fetchOne('SELECT COUNT(*) FROM reminder'));
        // It stands among what happened, for them alone.
        foreach (['Ilse Varga' => 1, 'Nerys Quill' => 0] as $name => $count) {
            $this->signIn($name, 'Ilse Varga' === $name ? Role::Keeper : Role::Reader);
            foreach (['/events', '/events.atom'] as $path) {
                self::assertSame($count, substr_count($this->get($path), '/items/'.self::text($due, 'code').'"'), $path);
            }
        }
        self::assertStringNotContainsString('/items/', $this->get('/events?only=new'));
        $this->signOut();
        // Another day is another reminder.
        $this->ask('POST', '/api/items/batch', $this->keeper, [
            'codes' => [self::text($due, 'code')], 'set' => ['due' => gmdate('Y-m-d', time() - 86_400)],
        ]);
        $reminders->look();
        // Since the last request.
        self::assertEmailCount(1);
    }

    public function testAPageThatIsToBeCapturedAgainIs(): void
    {
        $this->takeIn((new WarcBuilder('f'))->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<p>old</p>'));
        $old = $this->captureOf(self::PAGE)->code;
        $dossier = self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'Stern door'], 201), 'code');
        $item = $this->make([
            'kind' => 'capture', 'subject' => ['capture' => $old], 'dossiers' => [$dossier], 'due' => gmdate('Y-m-d'),
            'dueFor' => 'capture',
        ]);
        self::service(Reminders::class)->look();
        $database = self::service(Connection::class);
        $job = $database->fetchAssociative('SELECT code, url, dossier, agent FROM capture_job');
        self::assertSame(
            [self::PAGE, $dossier, 'Ilse Varga'], [$job['url'] ?? null, $job['dossier'] ?? null, $job['agent'] ?? null],
        );
        $entity = self::service(ItemRepository::class)->byCode(Viewer::system(), self::text($item, 'code'));
        self::assertNotNull($entity);
        $code = \is_string($job['code'] ?? null) ? $job['code'] : '';
        // One that failed leaves it due.
        self::service(EventDispatcherInterface::class)->dispatch(new CaptureEnded($code, null, 'dns', $dossier, 'Ilse Varga'));
        self::assertNotNull($entity->due);
        $this->takeIn((new WarcBuilder('g'))->exchange(self::PAGE, '2024-12-03T10:00:00Z', '<p>new</p>'), 'b.warc.gz');
        $new = $this->captureOf(self::PAGE)->code;
        self::assertNotSame($old, $new);
        self::service(EventDispatcherInterface::class)->dispatch(new CaptureEnded($code, $new, null, $dossier, 'Ilse Varga'));
        $entity = self::service(ItemRepository::class)->byCode(Viewer::system(), self::text($item, 'code'));
        self::assertNotNull($entity);
        self::assertNull($entity->due);
        $links = self::service(ItemLinks::class)->from(Viewer::person('Ilse Varga', Role::Keeper), $entity);
        self::assertSame([$new], array_map(static fn ($link): ?string => $link->toCapture, $links));
        self::assertCount(2, self::service(ItemRepository::class)->list(Viewer::system(), new ItemQuery(dossier: $dossier)));
    }

    public function testWhatIsDueIsACalendarForWhoeverHasTheKey(): void
    {
        $this->make(['title' => 'Ask; the, "mate"', 'due' => '2030-02-28', 'dueFor' => 'follow-up', 'summary' => "One\nTwo"]);
        $this->make(['title' => 'Never due']);
        $other = $this->token('Bram Hollis', Role::Keeper);
        $this->ask('POST', '/api/items', $other, ['kind' => 'note', 'title' => 'Of somebody else', 'due' => '2030-02-28'], 201);
        $this->signIn('Ilse Varga', Role::Keeper);
        $address = $this->client->request('GET', '/me')->filter('#feed code')->eq(1)->text();
        $this->signOut();
        $body = $this->get((string) parse_url($address, \PHP_URL_PATH).'?'.parse_url($address, \PHP_URL_QUERY));
        self::assertStringStartsWith('text/calendar', $this->header('Content-Type'));
        $calendar = @Reader::read($body);
        self::assertInstanceOf(VCalendar::class, $calendar);
        self::assertSame([], $calendar->validate());
        self::assertCount(1, $calendar->select('VEVENT'));
        self::assertStringContainsString('SUMMARY:Follow up: Ask\; the\, "mate"', $body);
        self::assertStringContainsString('DTSTART;VALUE=DATE:20300228', $body);
        self::assertStringContainsString('DTEND;VALUE=DATE:20300301', $body);
        self::assertStringNotContainsString('somebody else', $body);
        $this->get('/due.ics?key=wrong');
        self::assertNotSame(200, $this->answered());
    }

    /**
     * @param array<string, mixed> $values
     *
     * @return array<string, mixed>
     */
    private function make(array $values): array
    {
        return $this->ask('POST', '/api/items', $this->keeper, $values + ['kind' => 'note'], 201);
    }
}
