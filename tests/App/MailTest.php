<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Bundle\FrameworkBundle\Test\MailerAssertionsTrait;
use Symfony\Component\Mime\Email;
use Ypomna\App\Capture\JobList;
use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\Value\ArrivalState;
use Ypomna\App\People\ArrivingMail;
use Ypomna\App\People\CannotChange;
use Ypomna\App\People\MailAnswers;
use Ypomna\App\People\Message\AnswerMail;
use Ypomna\App\People\PersonRepository;
use Ypomna\App\People\Value\TakenMail;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;

/** Messages that a mail server hands over. */
final class MailTest extends ApiTestCase
{
    use MailerAssertionsTrait;

    protected function setUp(): void
    {
        parent::setUp();
        foreach (['Ilse Varga' => 'ilse@saltmarch.example', 'Nerys Quill' => 'nerys@saltmarch.example'] as $name => $mail) {
            $person = self::service(PersonRepository::class)->named($name);
            self::assertNotNull($person);
            $person->mail = $mail;
        }
        self::service(\Doctrine\ORM\EntityManagerInterface::class)->flush();
    }

    public function testItsAddressesAreCapturedAndWhatCameWithItIsTakenIn(): void
    {
        $taken = $this->take($this->message('Ilse Varga <ilse@saltmarch.example>'));
        self::assertSame('Ilse Varga', $taken->person);
        self::assertSame(['http://lantern.test/a', 'http://lantern.test/b?x=1'], array_keys($taken->jobs));
        self::assertSame(['plan é.pdf', 'The door.eml'], array_column($taken->files, 0));
        self::assertEmailCount(0);
        $message = $this->answerOf($taken);
        $answers = self::service(MailAnswers::class);
        $answers->answer($message);
        self::assertEmailCount(0, message: 'Nothing has ended.');
        $waiting = static fn (): int => \count(array_filter(
            self::service(Connection::class)->fetchFirstColumn('SELECT body FROM queue_message'),
            static fn (mixed $body): bool => \is_string($body) && str_contains($body, 'AnswerMail'),
        ));
        self::assertSame(2, $waiting(), 'It was asked for when the message came, and is looked for again.');
        foreach (array_values($taken->jobs) as $n => $code) {
            $job = self::service(JobList::class)->byCode(Viewer::system(), $code);
            self::assertNotNull($job);
            [$job->stage, $job->captureCode, $job->verdict, $job->reason] = 0 === $n
                ? [CaptureStage::Done, 'abcdefghjkmn', 'gaps', null] : [CaptureStage::Failed, null, null, 'timeout'];
        }
        foreach ($taken->files as [, $code]) {
            $arrival = self::service(Arrivals::class)->byCode((string) $code);
            self::assertNotNull($arrival);
            $arrival->state = ArrivalState::Taken;
        }
        self::service(\Doctrine\ORM\EntityManagerInterface::class)->flush();
        $answers->answer($message);
        self::assertSame(2, $waiting());
        self::assertEmailCount(1);
        $mail = self::getMailerMessage();
        self::assertInstanceOf(Email::class, $mail);
        self::assertSame('ilse@saltmarch.example', $mail->getTo()[0]->getAddress());
        self::assertEmailTextBodyContains($mail, "http://lantern.test/a is kept (incomplete):\n");
        self::assertEmailTextBodyContains($mail, '/c/abcdefghjkmn');
        self::assertEmailTextBodyContains($mail, '/captures/'.$taken->jobs['http://lantern.test/b?x=1']);
        self::assertEmailTextBodyContains($mail, 'plan é.pdf is taken in.');
        self::assertEmailHeaderSame($mail, 'Auto-Submitted', 'auto-replied');
        self::assertEmailHeaderSame($mail, 'In-Reply-To', '<one@saltmarch.example>');
        $viewer = Viewer::person('Ilse Varga', Role::Keeper);
        foreach ($taken->jobs as $code) {
            $this->ask('GET', '/api/jobs/'.$code, $this->keeper);
        }
        foreach ($taken->files as [, $code]) {
            self::assertNotNull(self::service(Arrivals::class)->seen($viewer, (string) $code));
        }
    }

    /** @return iterable<string, array{string, string}> who sends it, and further fields */
    public static function others(): iterable
    {
        yield 'nobody who is known' => ['stranger@elsewhere.example', ''];
        yield 'a reader, who keeps nothing' => ['nerys@saltmarch.example', ''];
        yield 'somebody known in a name alone' => ['"ilse@saltmarch.example" <stranger@elsewhere.example>', ''];
        yield 'somebody known in a comment' => ['stranger@elsewhere.example (ilse@saltmarch.example)', ''];
    }

    #[DataProvider('others')]
    public function testOthersWait(string $from, string $fields): void
    {
        $taken = $this->take($this->message($from, $fields));
        self::assertNull($taken->person);
        self::assertFileExists((string) $taken->waits);
        self::assertEmailCount(0);
        // Somebody who may says whose it is.
        $taken = self::service(ArrivingMail::class)->take((string) $taken->waits, 'Ilse Varga');
        self::assertSame('Ilse Varga', $taken->person);
        self::assertCount(2, $taken->jobs);
    }

    public function testTwoSendersOrNoneAreNoMessage(): void
    {
        foreach (['ilse@saltmarch.example, stranger@elsewhere.example', 'Ilse Varga', ''] as $from) {
            try {
                $this->take($this->message($from));
                self::fail($from);
            } catch (CannotChange $e) {
                self::assertSame('people.is_no_message', $e->key);
            }
        }
        $this->expectException(CannotChange::class);
        $this->take("\x00\x01no message at all");
    }

    public function testWhatAnswersByItselfGetsNoAnswer(): void
    {
        foreach (['Auto-Submitted: auto-replied', 'Precedence: bulk', 'List-Id: <crew.saltmarch.example>'] as $field) {
            self::assertSame('Ilse Varga', $this->take($this->message('ilse@saltmarch.example', $field))->person);
        }
        foreach (self::service(Connection::class)->fetchFirstColumn('SELECT body FROM queue_message') as $body) {
            self::assertStringNotContainsString('AnswerMail', \is_string($body) ? $body : '');
        }
    }

    public function testWhereAMailServerChecksItIsBelievedAlone(): void
    {
        $from = 'ilse@saltmarch.example';
        $passed = 'dmarc=pass header.from=saltmarch.example';
        foreach ([
            '' => false, "Authentication-Results: mx.evil.example; {$passed}" => false,
            'Authentication-Results: mx.saltmarch.example; dmarc=fail header.from=saltmarch.example' => false,
            'Authentication-Results: mx.saltmarch.example; dmarc=pass header.from=saltmarch.example.evil.example' => false,
            "Authentication-Results: mx.saltmarch.example; spf=pass; {$passed}" => true,
        ] as $field => $isTaken) {
            $mail = $this->checking('mx.saltmarch.example');
            $path = $this->folder->file('checked.eml', $this->message($from, $field));
            self::assertSame($isTaken, null !== $mail->take($path)->person, $field);
        }
    }

    public function testNoMessageBreaksIt(): void
    {
        mt_srand(20);
        $message = $this->message('ilse@saltmarch.example');
        for ($i = 0; $i < 150; ++$i) {
            $bytes = $message;
            for ($n = mt_rand(1, 12); $n > 0; --$n) {
                $at = mt_rand(0, \strlen($bytes) - 1);
                $bytes = match (mt_rand(0, 2)) {
                    0 => substr_replace($bytes, \chr(mt_rand(0, 255)), $at, 1),
                    1 => substr_replace($bytes, '', $at, mt_rand(1, 40)),
                    default => substr($bytes, 0, $at).substr($bytes, mt_rand(0, \strlen($bytes) - 1), 60).substr($bytes, $at),
                };
            }
            try {
                $taken = $this->take($bytes);
                self::assertLessThanOrEqual(20, \count($taken->jobs));
            } catch (CannotChange $e) {
                self::assertSame('people.is_no_message', $e->key);
            }
        }
    }

    public function testItIsAnsweredInTheEndEvenIfItTakesTooLong(): void
    {
        $taken = $this->take($this->message('ilse@saltmarch.example'));
        self::service(MailAnswers::class)->answer($this->answerOf($taken, time() - 3_600));
        self::assertEmailCount(1);
        $mail = self::getMailerMessage();
        self::assertInstanceOf(Email::class, $mail);
        self::assertEmailTextBodyContains($mail, '/captures/'.$taken->jobs['http://lantern.test/a']);
        self::assertEmailTextBodyContains($mail, 'plan é.pdf is being taken in.');
    }

    private function answerOf(TakenMail $taken, ?int $since = null): AnswerMail
    {
        return new AnswerMail('ilse@saltmarch.example', 'The door', '<one@saltmarch.example>', $taken->toText(), $since ?? time());
    }

    private function checking(string $by): ArrivingMail
    {
        $mail = self::service(ArrivingMail::class);
        $class = new \ReflectionClass($mail);
        $values = [];
        foreach ($class->getConstructor()?->getParameters() ?? [] as $parameter) {
            $name = $parameter->getName();
            $values[] = 'checkedBy' === $name ? $by : $class->getProperty($name)->getValue($mail);
        }

        return $class->newInstanceArgs($values);
    }

    private function take(string $message): TakenMail
    {
        return self::service(ArrivingMail::class)->take($this->folder->file('message.eml', $message));
    }

    private function message(string $from, string $fields = ''): string
    {
        return implode("\r\n", array_filter([
            '' === $from ? '' : 'From: '.$from, 'To: keep@ypomna.example', 'Subject: The door', 'Message-ID: <one@saltmarch.example>',
            $fields, 'MIME-Version: 1.0', 'Content-Type: multipart/mixed; boundary=B',
        ], static fn (string $line): bool => '' !== $line))."\r\n\r\n".implode("\r\n", [
            '--B', 'Content-Type: text/plain; charset=utf-8', '', 'See http://lantern.test/a, and (http://lantern.test/b?x=1).',
            'Again: http://lantern.test/a', '', '--B', 'Content-Type: application/pdf',
            "Content-Disposition: attachment; filename*=utf-8''plan%20%C3%A9.pdf", 'Content-Transfer-Encoding: base64', '',
            base64_encode("%PDF-1.4\n%%EOF\n"), '--B--', '',
        ]);
    }
}
