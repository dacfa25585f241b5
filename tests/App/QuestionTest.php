<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Symfony\Component\Mime\Email;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Desk\Dossiers;
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Search\Engine;
use Ypomna\App\Search\Indexer;
use Ypomna\App\Search\Questions;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Event\RemindersAsked;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\TestClock;
use Ypomna\Tests\Support\WarcBuilder;

/** What somebody asked, what they keep of it, what they are told of, and what is offered while they type. */
final class QuestionTest extends AppTestCase
{
    protected function setUp(): void
    {
        parent::setUp();
        self::service(Engine::class)->clear();
        $this->keep('http://lantern.test/gull', '2024-01-01', '<title>The gull</title><p>A gull on the ramp.');
        $this->index();
        $this->signIn('Ilse Varga', Role::Keeper);
    }

    public function testWhatWasAskedIsThereAgainAndCanBeSaved(): void
    {
        self::assertStringContainsString('None yet.', $this->get('/search'));
        $this->get('/search?q=gull&site=lantern.test&order=newest');
        $this->get('/search?q=ramp');
        $this->get('/search?q=ramp');
        $page = $this->get('/search');
        self::assertSame(1, substr_count($page, '/search?q=ramp"'));
        self::assertStringContainsString('/search?q=gull&amp;site=lantern.test"', $page);
        $this->act('ramp', 'save');
        self::assertSame([['ramp', true, false]], $this->saved());
        $this->act('ramp', 'watch');
        $this->act('gull', 'watch');
        self::assertSame([['gull', true, true], ['ramp', true, true]], $this->saved());
        $this->act('ramp', 'unwatch');
        $this->act('gull', 'leave');
        self::assertSame([['ramp', true, false]], $this->saved());
        // Nobody else's.
        $this->signIn('Tomas Okoye', Role::Keeper);
        self::assertStringNotContainsString('ramp', $this->get('/search'));
        self::assertTrue(self::service(Questions::class)->change(Viewer::person('Tomas Okoye', Role::Keeper), ['q' => 'ramp'], false,
            false));
        self::assertFalse(self::service(Questions::class)->change(Viewer::nobody(), ['q' => 'ramp'], true, true));
        self::assertSame([['ramp', true, false]], $this->saved());
    }

    public function testOfThoseThatAreNotSavedTheLastAreKept(): void
    {
        $questions = self::service(Questions::class);
        for ($n = 0; $n < 40; ++$n) {
            $questions->asked(self::ilse(), ['q' => 'word'.$n]);
            TestClock::forward('+1 minute');
        }
        self::assertCount(30, $questions->last(self::ilse()));
        self::assertSame('word39', $questions->last(self::ilse())[0]->asked);
        self::assertNull($questions->asked(self::ilse(), ['q' => str_repeat('long ', 500)]));
        self::assertNull($questions->asked(Viewer::nobody(), ['q' => 'gull']));
    }

    public function testWhoeverWatchesAQuestionIsToldOnceWhatIsNew(): void
    {
        $this->person('Nerys Quill', Role::Reader);
        $this->person('Ilse Varga', Role::Keeper);
        $questions = self::service(Questions::class);
        foreach ([self::ilse(), Viewer::person('Nerys Quill', Role::Reader)] as $viewer) {
            $asked = $questions->asked($viewer, ['q' => 'gull']);
            self::assertNotNull($asked);
            self::assertTrue($questions->change($viewer, $asked->query, true, true));
        }
        $questions->look();
        self::assertSame([], $this->told(self::ilse()));
        $this->keep('http://lantern.test/gull', '2024-02-01', '<title>The gull</title><p>The gull is gone.');
        $this->keep('http://lantern.test/ramp', '2024-02-02', '<title>The ramp</title><p>No bird.');
        $this->index();
        $questions->look();
        self::assertSame([], $this->told(self::ilse()), 'That page was found before.');
        $this->keep('http://harbour.test/gulls', '2024-03-01', '<title>Gulls</title><p>Many gulls.');
        $this->keep('http://harbour.test/hidden', '2024-03-02', '<title>Hidden</title><p>A gull nobody is to know of.');
        self::service(CaptureLimits::class)->say(new Actor('Bram Hollis'), $this->captureOf('http://harbour.test/hidden'), true);
        $this->index();
        $questions->look();
        $questions->look();
        self::assertSame(['One more has “gull”'], $this->told(self::ilse()));
        self::assertSame(['One more has “gull”'], $this->told(Viewer::person('Nerys Quill', Role::Reader)));
        self::assertStringContainsString('One new', $this->get('/search'));
        self::assertStringContainsString('One more has “gull”', $this->get('/events'));
        // Whoever looks has seen it.
        $this->get('/search?q=gull&order=newest');
        self::assertSame([], $this->told(self::ilse()));
        $questions->look();
        self::assertSame([], $this->told(self::ilse()));
    }

    public function testSomethingNewComesByMailToo(): void
    {
        $person = $this->person('Hedda Lorne', Role::Keeper);
        $person->mail = 'hedda@saltmarch.example';
        self::service(\Doctrine\ORM\EntityManagerInterface::class)->flush();
        $viewer = Viewer::person('Hedda Lorne', Role::Keeper);
        $questions = self::service(Questions::class);
        $asked = $questions->asked($viewer, ['q' => 'oystercatcher']);
        self::assertNotNull($asked);
        $questions->change($viewer, $asked->query, true, true);
        $this->keep('http://harbour.test/birds', '2024-03-01', '<title>Birds</title><p>An oystercatcher.');
        $this->index();
        $questions->look();
        self::assertEmailCount(1);
        $mail = self::getMailerMessage();
        self::assertInstanceOf(Email::class, $mail);
        self::assertSame('One more has “oystercatcher”', $mail->getSubject());
        self::assertEmailTextBodyContains($mail, '/search?order=newest&q=oystercatcher');
    }

    public function testWhatMayBeMeantIsOfferedWhileOneTypes(): void
    {
        self::service(Dossiers::class)->make(new Actor('Ilse Varga'), new DossierChange('Gulls of the coast'));
        $this->person('Gulliver Ash', Role::Reader);
        $this->get('/search?q=gull+ramp');
        $offered = $this->offered('gul');
        self::assertSame(['question', 'gull ramp', '/search?q=gull%20ramp'], $offered[0]);
        self::assertContains('dossier Gulls of the coast', array_map(static fn (array $one): string => $one[0].' '.$one[1], $offered));
        self::assertContains('page The gull', array_map(static fn (array $one): string => $one[0].' '.$one[1], $offered));
        self::assertContains('person Gulliver Ash', array_map(static fn (array $one): string => $one[0].' '.$one[1], $offered));
        self::assertSame('page', $this->offered('lantern.test gu')[0][0] ?? null, 'By its address, too.');
        foreach (['http://harbour.test/tides', 'http://lantern.test/tides'] as $url) {
            $this->keep($url, '2024-03-01', '<title>Tide tables</title><p>Of '.$url);
        }
        $this->index();
        $names = array_column($this->offered('tide t'), 1);
        sort($names);
        self::assertSame(['Tide tables – http://harbour.test/tides', 'Tide tables – http://lantern.test/tides'], $names);
        self::assertSame([['question', 'gull ramp', '/search?q=gull%20ramp']], $this->offered(''));
        self::assertSame([], $this->offered('"*-'));
        $this->get('/search/complete?q[]=x');
        self::assertSame(200, $this->answered());
        // Whoever reads is told no names of people, and nothing of what only others see.
        self::service(CaptureLimits::class)->say(new Actor('Ilse Varga'), $this->captureOf('http://lantern.test/gull'), true);
        $this->signIn('Nerys Quill', Role::Reader);
        self::assertSame([], $this->offered('gul'));
    }

    /** @return list<array{string, string, string}> kind, name, path */
    private function offered(string $typed): array
    {
        /** @var list<array{name: string, kind: string, href: string}> $said */
        $said = json_decode($this->get('/search/complete?'.http_build_query(['q' => $typed])), true);

        return array_map(static fn (array $one): array => [$one['kind'], $one['name'], $one['href']], $said);
    }

    private static function ilse(): Viewer
    {
        return Viewer::person('Ilse Varga', Role::Keeper);
    }

    /** @return list<string> */
    private function told(Viewer $viewer): array
    {
        $asked = new RemindersAsked($viewer);
        self::service(Questions::class)->tell($asked);

        return array_column($asked->told(), 'title');
    }

    /** @return list<array{string, bool, bool}> */
    private function saved(): array
    {
        return array_map(
            static fn ($one): array => [$one->asked, $one->isSaved, $one->isWatched], self::service(Questions::class)->saved(self::ilse()),
        );
    }

    private function act(string $asked, string $act): void
    {
        $this->get('/search');
        $form = $this->client->getCrawler()->filter('.questions li')->reduce(
            static fn ($row): bool => $asked === trim($row->filter('a.open')->text()),
        )->filter('form')->form();
        $this->client->request('POST', $form->getUri(), $form->getValues() + ['act' => $act]);
        self::assertSame(303, $this->answered());
    }

    private function keep(string $url, string $day, string $html): void
    {
        $this->takeIn((new WarcBuilder($url.$day))->exchange($url, $day.'T10:00:00Z', $html), $day.'.warc.gz');
    }

    private function index(): void
    {
        for ($behind = 0; null !== $behind;) {
            $behind = self::service(Indexer::class)->portion($behind);
        }
    }
}
