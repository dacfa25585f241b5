<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Psr\Clock\ClockInterface;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Messenger\Stamp\DelayStamp;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Network\WebAccess;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Watch\Message\CallHook;
use Ypomna\App\Watch\Value\EventLine;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Fetch\Limits;
use Ypomna\Core\Fetch\MessageSignature;

/** Tells a web hook of an event: JSON, signed, through the guard, without following redirects; in quiet hours later. */
final readonly class HookCaller
{
    private const AGENT = 'Ypomna/0.1 (web hook)';
    private const SECONDS = 15;
    /** After how many seconds one that failed is called again. */
    private const AGAIN = [60, 600, 3_600];
    private const QUIET = 900_000;

    public function __construct(
        private WatchEvents $events,
        private WatchRequests $watches,
        private WatchSettingsRepository $settings,
        private WebAccess $web,
        private UrlGeneratorInterface $addresses,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
    ) {
    }

    public function call(CallHook $message): void
    {
        $event = $this->events->byId($message->eventId);
        $watch = null === $event ? null : $this->watches->byCode(Viewer::system(), $event->watch);
        if (null === $event || null === $watch || null === $watch->hookUrl || null !== $event->hookedAt) {
            return;
        }
        if ($this->settings->read()->isQuiet($this->clock->now())) {
            $this->bus->dispatch($message, [new DelayStamp(self::QUIET)]);

            return;
        }
        // A receiver that keeps the numbers it has seen takes a call that somebody repeats for what it is.
        $further = ['Ypomna-Event-Id' => (string) $event->id, 'Ypomna-Event-Time' => self::time($event)];
        $said = $this->send(
            Url::parse($watch->hookUrl),
            $watch->code,
            $watch->hookSecret,
            $further,
            (string) json_encode($this->told($event), \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE),
        );
        $tries = $this->events->hookTried($event->id, $said);
        $again = self::AGAIN[$tries - 1] ?? null;
        if (null !== $said && null !== $again) {
            $this->bus->dispatch($message, [new DelayStamp(1_000 * $again)]);
        }
    }

    /**
     * What the guard says of an address that somebody fills in; it is asked again with each call, as names change.
     *
     * @throws InvalidWatch
     */
    public function judge(string $hook): void
    {
        $url = Url::parse($hook);
        try {
            $this->web->pathfinder(new Limits())->judge((string) $url->host, $url->port ?? Url::DEFAULT_PORTS[$url->scheme] ?? 0);
        } catch (FetchFailed $e) {
            throw new InvalidWatch('watch.hook_cannot_be_called', ['reason' => $e->getMessage()]);
        }
    }

    /**
     * @param array<string, string> $further fields
     *
     * @return string|null why it was not taken; null if it was
     */
    private function send(Url $url, string $key, #[\SensitiveParameter] string $secret, array $further, string $body): ?string
    {
        $folder = sys_get_temp_dir().'/ypomna-hook-'.bin2hex(random_bytes(8));
        $files = new Filesystem();
        $files->mkdir($folder, 0o700);
        try {
            $limits = new Limits(
                maxSeconds: self::SECONDS, maxBytes: 65_536, maxExchanges: 1, idleSeconds: self::SECONDS, connectSeconds: 8,
            );
            $gateway = new Gateway(
                $this->web->pathfinder($limits),
                $folder,
                $limits,
                static fn (): \DateTimeImmutable => new \DateTimeImmutable(),
                static fn (): float => microtime(true),
            );
            $exchange = $gateway->post(
                $url,
                self::AGENT,
                MessageSignature::fields('POST', $url, 'application/json', $body, $key, $secret, time(), $further),
                $body,
            );
        } finally {
            $files->remove($folder);
        }

        return match (true) {
            null === $exchange || null === $exchange->status => $exchange->message ?? 'There was no answer.',
            $exchange->status < 200 || $exchange->status > 299 => \sprintf('It answered with status %d.', $exchange->status),
            default => null,
        };
    }

    /**
     * @return array<string, mixed>
     */
    private function told(EventLine $event): array
    {
        $read = fn (?string $code): ?string => null === $code
            ? null
            : $this->addresses->generate('read', ['code' => $code], UrlGeneratorInterface::ABSOLUTE_URL);

        return [
            'event' => $event->id, 'kind' => $event->kind->value, 'at' => self::time($event), 'watch' => $event->watch,
            'name' => $event->watchName, 'url' => $event->url,
            'before' => $event->before, 'after' => $event->after, 'furtherChanges' => $event->more,
            'captureBefore' => $read($event->captureBefore), 'captureAfter' => $read($event->captureAfter),
            'comparison' => null === $event->captureBefore || null === $event->captureAfter
                ? null
                : $this->addresses->generate(
                    'compare', ['one' => $event->captureBefore, 'other' => $event->captureAfter], UrlGeneratorInterface::ABSOLUTE_URL,
                ),
        ];
    }

    private static function time(EventLine $event): string
    {
        return $event->at->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s\Z');
    }
}
