<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Psr\Clock\ClockInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Right;
use Ypomna\App\Capture\CaptureRequests;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\UnusableFile;
use Ypomna\App\Exchange\Value\SaidOfArrival;
use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\People\Entity\Person;
use Ypomna\App\People\Message\AnswerMail;
use Ypomna\App\People\Value\TakenMail;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\DataFolder;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Mhtml\Archive;
use Ypomna\Core\Mhtml\Entity;
use Ypomna\Core\Mhtml\Headers;
use Ypomna\Core\Mhtml\MhtmlReader;

/**
 * Takes in a message that a mail server hands over: addresses in it are captured, attachments and the message itself are taken in, and
 * its sender gets an answer when all of it has ended. Only of whoever has that address here; others wait.
 */
final readonly class ArrivingMail
{
    public const LARGEST = 104_857_600;
    private const MOST_ADDRESSES = 20;
    private const MOST_ATTACHMENTS = 50;
    private const MOST_TEXT = 1_048_576;

    public function __construct(
        private PersonRepository $people,
        private Gate $gate,
        private CaptureRequests $requests,
        private Arrivals $arrivals,
        private DataFolder $folder,
        private MessageBusInterface $bus,
        private ClockInterface $realTime,
        #[Autowire('%env(MAIL_CHECKED_BY)%')] private string $checkedBy,
    ) {
    }

    /**
     * @param string $path of the message
     * @param string|null $as whose it is, whoever sent it; null: whose address it says
     *
     * @throws CannotChange if it is no message
     */
    public function take(string $path, ?string $as = null): TakenMail
    {
        $archive = MhtmlReader::read($path);
        $fields = $archive->message?->headers->fields;
        $sender = self::sender($fields?->get('From') ?? '');
        if (null === $fields || null === $sender) {
            throw new CannotChange('people.is_no_message');
        }
        $person = null === $as ? $this->personOf($sender, $fields->all('Authentication-Results')) : $this->people->named($as);
        if (null === $person || !$this->gate->may($this->people->viewer($person->name), Right::Keep)) {
            return new TakenMail(null, [], [], $this->wait($path));
        }
        $taken = $this->taken($person, $archive, $path);
        // Whatever answers by itself gets no answer (RFC 3834, section 2).
        $isByItself = 1 === preg_match('/^(?!\s*no\s*$)./i', $fields->get('Auto-Submitted') ?? 'no')
            || 1 === preg_match('/^\s*(?:bulk|list|junk)\b/i', $fields->get('Precedence') ?? '') || null !== $fields->get('List-Id');
        if (!$isByItself && false !== filter_var($sender, \FILTER_VALIDATE_EMAIL)) {
            $this->bus->dispatch(new AnswerMail(
                $sender, trim(mb_scrub(Headers::decodeWords($fields->get('Subject') ?? ''))), mb_scrub($fields->get('Message-ID') ?? ''),
                $taken->toText(),
                $this->realTime->now()->getTimestamp(),
            ));
        }

        return $taken;
    }

    /** @param list<string> $checks what mail servers found (RFC 8601); only one's own is believed */
    private function personOf(string $sender, array $checks): ?Person
    {
        $domain = strtolower(substr((string) strrchr($sender, '@'), 1));
        if ('' !== $this->checkedBy) {
            $passed = array_filter($checks, fn (string $one): bool => 0 === strcasecmp(trim((string) strtok($one, ';')), $this->checkedBy)
                && 1 === preg_match('/\bdmarc=pass\b[^;]*\bheader\.from=@?'.preg_quote($domain, '/').'(?![\w.-])/i', $one));
            if ([] === $passed) {
                return null;
            }
        }
        $found = array_values(array_filter($this->people->byMail($sender), static fn (Person $one): bool => !$one->isClosed()));

        // An address that two people share is nobody's alone.
        return 1 === \count($found) ? $found[0] : null;
    }

    private function taken(Person $person, Archive $archive, string $path): TakenMail
    {
        $actor = new Actor($person->name);
        $subject = trim(mb_scrub(Headers::decodeWords($archive->message?->headers->fields->get('Subject') ?? '')));
        $jobs = $refused = [];
        foreach (self::addresses(self::text($archive)) as $url) {
            try {
                $jobs[$url] = $this->requests->ask($actor, $url, new CaptureOptions())->code;
            } catch (InvalidAddress $e) {
                $refused[$url] = $e->getMessage();
            }
        }
        $files = [];
        $work = $this->folder->newWork('mail');
        mkdir($work, 0o700, true);
        try {
            foreach (\array_slice(array_filter($archive->parts, self::isAttached(...)), 0, self::MOST_ATTACHMENTS) as $part) {
                $name = self::name($part);
                $file = $work.'/'.bin2hex(random_bytes(6));
                foreach ($archive->body($part) as $piece) {
                    if (\strlen($piece) !== file_put_contents($file, $piece, \FILE_APPEND)) {
                        throw new \RuntimeException('The disk took no more.');
                    }
                }
                $files[] = [$name, $this->handIn($actor, $file, $name, '')];
            }
            $files[] = ['' === $subject ? 'message.eml' : $subject.'.eml', $this->handIn($actor, $path, 'message.eml', $subject)];
        } finally {
            (new Filesystem())->remove($work);
        }

        return new TakenMail($person->name, $jobs, $files, null, $refused);
    }

    /** @return string|null code of its work; null if it cannot be taken in */
    private function handIn(Actor $actor, string $path, string $name, string $title): ?string
    {
        $body = fopen($path, 'r');
        try {
            $arrival = $this->arrivals->begin(
                $actor, $name, (int) filesize($path), (int) filemtime($path), (string) hash_file('sha256', $path),
                new SaidOfArrival(mb_strcut($title, 0, 900)),
            );
            if (false !== $body) {
                $this->arrivals->add($arrival, $this->arrivals->size($arrival), $body);
            }
            $this->arrivals->complete($arrival);

            return $arrival->code;
        } catch (UnusableFile) {
            return null;
        } finally {
            if (false !== $body) {
                fclose($body);
            }
        }
    }

    /** @return string where it waits for somebody to say whose it is */
    private function wait(string $path): string
    {
        $folder = $this->folder->waitingMail();
        if (!is_dir($folder)) {
            mkdir($folder, 0o700, true);
        }
        $target = $folder.'/'.substr((string) hash_file('sha256', $path), 0, 24).'.eml';
        if (!is_file($target) && (!copy($path, $target.'.half') || !rename($target.'.half', $target))) {
            throw new \RuntimeException('The message cannot be kept.');
        }

        return $target;
    }

    /** The one address of a From field; null if there is none, or several. */
    private static function sender(string $from): ?string
    {
        // What stands in quotation marks or in comments is a name, whatever it looks like.
        $plain = (string) preg_replace(['/"(?:[^"\\\\]|\\\\.)*"/', '/\([^()]*\)/'], '', $from);
        preg_match_all('/[^\s<>,;:"()\[\]]+@[^\s<>,;:"()\[\]]+/', $plain, $found);

        return 1 === \count($found[0]) && \strlen($found[0][0]) <= 190 ? $found[0][0] : null;
    }

    private static function isAttached(Entity $part): bool
    {
        $disposition = strtolower($part->headers->fields->get('Content-Disposition') ?? '');

        return str_starts_with($disposition, 'attachment')
            || ('' !== (string) $part->headers->parameter('name') && !str_starts_with($part->headers->mime, 'text/'));
    }

    private static function name(Entity $part): string
    {
        $disposition = $part->headers->fields->get('Content-Disposition') ?? '';
        $name = 1 === preg_match('/filename\*?="?([^";]+)"?/i', $disposition, $m) ? $m[1] : (string) $part->headers->parameter('name');
        $name = Headers::decodeWords(rawurldecode((string) preg_replace("/^[\w-]*'[^']*'/", '', $name)));

        return '' === trim(mb_scrub($name)) ? 'attachment' : mb_scrub($name);
    }

    /** What is written in it: its plain text, or that of its HTML. */
    private static function text(Archive $archive): string
    {
        foreach (['text/plain', 'text/html'] as $mime) {
            foreach ($archive->parts as $part) {
                if ($mime === $part->headers->mime && !self::isAttached($part)) {
                    $text = '';
                    foreach ($archive->body($part) as $piece) {
                        $text .= $piece;
                        if (\strlen($text) > self::MOST_TEXT) {
                            break;
                        }
                    }
                    if ('' !== trim($text)) {
                        return 'text/html' === $mime ? html_entity_decode($text, \ENT_QUOTES | \ENT_HTML5) : $text;
                    }
                }
            }
        }

        return '';
    }

    /** @return list<string> addresses of the web, each once, in their order */
    private static function addresses(string $text): array
    {
        preg_match_all('~https?://[^\s<>"\'\\\\^`{|}]+~i', mb_scrub($text), $found);
        $urls = [];
        foreach ($found[0] as $one) {
            $url = Url::tryParse(rtrim($one, '.,;:!?)]»”’'));
            if (null !== $url && $url->isWeb()) {
                $urls[(string) $url->withoutUserinfo()] = true;
            }
        }

        return \array_slice(array_map(strval(...), array_keys($urls)), 0, self::MOST_ADDRESSES);
    }
}
