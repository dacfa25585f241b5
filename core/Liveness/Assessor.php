<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Compare\Likeness;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Page\MainText;

/**
 * Judges what one look at an address shows. No sign decides alone where it can be mistaken: a page with status 200 is gone if it
 * says so and has no text of its own, or if the server answers a made-up address beside it alike.
 */
final class Assessor
{
    /** Main texts with less in common are not the same. */
    private const SAME = 0.35;
    private const ALIKE = 0.86;

    private readonly Likeness $likeness;

    /**
     * @param Asker              $asker  for the looks that the check makes itself
     * @param \Closure(): string $random a made-up name, another one each time
     */
    public function __construct(private readonly Asker $asker, private readonly \Closure $random)
    {
        $this->likeness = new Likeness();
    }

    /** @param MainText|null $held the page as it was, if it is held */
    public function judge(Looked $looked, ?MainText $held = null): Assessment
    {
        if (null !== $looked->failure) {
            return new Assessment($looked->failure, [$looked->message], LiveReason::NoHost === $looked->failure ? 0.9 : 0.95);
        }
        $status = $looked->status ?? 0;
        $page = new PageSigns($looked);

        return $this->byStatus($status, $page) ?? $this->byPage($looked, $page, $held);
    }

    private function byStatus(int $status, PageSigns $page): ?Assessment
    {
        if ($status >= 200 && $status < 300) {
            return null;
        }
        $said = \sprintf('The server answered with status %d.', $status);
        if (\in_array($status, [403, 429, 503], true) && $page->has(Trouble::Challenge)) {
            return new Assessment(LiveReason::Challenge, [$said, 'The page asks whether a person is asking.'], 0.9);
        }
        $reason = match (true) {
            404 === $status => LiveReason::NotFound,
            410 === $status => LiveReason::Gone,
            401 === $status, 407 === $status => LiveReason::Login,
            451 === $status => LiveReason::Legal,
            429 === $status => LiveReason::RateLimit,
            403 === $status, 405 === $status, 402 === $status => LiveReason::Forbidden,
            $status >= 500 && $status < 600 => LiveReason::ServerError,
            $status >= 400 && $status < 500 => LiveReason::NotFound,
            default => LiveReason::BadResponse,
        };

        return new Assessment($reason, [$said], $status > 399 && $status < 404 || \in_array($status, [404, 410, 429, 451], true) ? 0.97 : 0.85);
    }

    private function byPage(Looked $looked, PageSigns $page, ?MainText $held): Assessment
    {
        if ('' === trim($looked->body)) {
            return new Assessment(LiveReason::BadResponse, ['The answer is empty.'], 0.9);
        }
        $likeness = null === $held || '' === $held->text ? null : $this->likeness->of(self::plain($held->text), self::plain($page->main->text));
        $isHeld = null !== $likeness && $likeness >= self::SAME;
        if (!$isHeld || $page->saysGone()) {
            $blocked = $this->blocked($looked, $page) ?? $this->gone($looked, $page, $likeness);
            if (null !== $blocked) {
                return $blocked;
            }
        }
        $evidence = null === $likeness ? [] : [\sprintf('The main text has %d %% in common with the one that is held.', (int) round(100 * $likeness))];
        if (1 === preg_match('/\.pdf$/i', $looked->asked->path) && $looked->isHtml() && '' !== ($looked->type ?? '')) {
            return new Assessment(LiveReason::Content, ['A page stands in place of the PDF file.', ...$evidence], 0.85);
        }
        if (null !== $likeness && !$isHeld) {
            return new Assessment(LiveReason::Content, $evidence, min(0.97, 0.6 + self::SAME - $likeness));
        }
        if (!self::isTrivial($looked->asked, $looked->final)) {
            return new Assessment(LiveReason::Redirect, ['It leads to '.$looked->final.'.', ...$evidence], $isHeld ? 0.97 : 0.75);
        }

        return new Assessment(LiveReason::Ok, [\sprintf('The server answered with status %d and a page of its own.', $looked->status ?? 0), ...$evidence], $isHeld ? 0.99 : 0.9);
    }

    private function blocked(Looked $looked, PageSigns $page): ?Assessment
    {
        $path = strtolower($looked->final->path);
        $led = !self::isTrivial($looked->asked, $looked->final);
        if ($page->has(Trouble::Challenge)) {
            return new Assessment(LiveReason::Challenge, ['The page asks whether a person is asking.'], 0.85);
        }
        if ($page->isParked()) {
            return new Assessment(LiveReason::Parked, ['The page says that the name is for sale or the hosting ended, or is what a server shows before anything is put on it.'], 0.9);
        }
        $toLogin = $led && 1 === preg_match('#(?:^|[/_-])(?:log-?in|sign-?in|log-?on|auth|sso|anmelden|konto|account)(?:[/._?-]|$)#', $path) && 1 !== preg_match('#(?:^|[/_-])(?:log-?in|sign-?in)#', strtolower($looked->asked->path));
        if ($page->has(Trouble::Login) || ($toLogin && !$page->isArticle())) {
            return new Assessment(LiveReason::Login, [$toLogin ? 'It leads to a sign-in: '.$looked->final.'.' : 'The page asks to sign in or subscribe in place of its text.'], 0.88);
        }
        if ($page->isConsentWall() || ($led && 1 === preg_match('#(?:^|[/.])(?:consent|cookie-?wall|privacy-?(?:gate|wall)|gdpr)(?:[/.?-]|$)#', $looked->final->host.$path) && !$page->isArticle())) {
            return new Assessment(LiveReason::Consent, ['A request for consent stands in place of the text.'], 0.85);
        }

        return null;
    }

    private function gone(Looked $looked, PageSigns $page, ?float $likeness): ?Assessment
    {
        $led = !self::isTrivial($looked->asked, $looked->final);
        $lost = null === $likeness || $likeness < self::SAME;
        if ($page->saysGone()) {
            return new Assessment(LiveReason::Soft404, ['The page says that what was asked for is not there (any more).'], 0.88);
        }
        if ($led && self::isFront($looked->final) && !self::isFront($looked->asked) && $lost) {
            return new Assessment(LiveReason::HomeRedirect, ['It leads to the front page of '.$looked->final->host.'.'], 0.9);
        }
        if ($led && 1 === preg_match('#(?:^|[/_-])(?:404|not-?found|error|page-?not-?found|missing|gone|removed)(?:[/._?-]|$)#i', $looked->final->path) && $lost) {
            return new Assessment(LiveReason::Soft404, ['It leads to a page for errors: '.$looked->final->path.'.'], 0.85);
        }
        if (!$lost || self::isFront($looked->asked)) {
            return null;
        }

        return $this->likeNothing($looked, $page, $led);
    }

    /**
     * Holds the page against what the server says to addresses that cannot be. Many sites pass over the last part of an address,
     * so of a page with a text of its own the answer to one in the same folder says little: another, far from it, has to be alike.
     */
    private function likeNothing(Looked $looked, PageSigns $page, bool $led): ?Assessment
    {
        $found = null;
        $madeUp = [self::beside($looked->asked, ($this->random)())];
        if ($page->isArticle()) {
            $madeUp[] = self::far($looked->asked, ($this->random)(), ($this->random)());
        }
        foreach ($madeUp as $url) {
            $found = null === $url ? null : $this->likeAnswerTo($url, $looked, $page, $led);
            if (null === $found) {
                return null;
            }
        }

        return $found;
    }

    private function likeAnswerTo(Url $url, Looked $looked, PageSigns $page, bool $led): ?Assessment
    {
        $probe = $this->asker->look($url);
        if (null !== $probe->failure || ($probe->status ?? 0) < 200 || ($probe->status ?? 0) > 299) {
            return null;
        }
        if ($led && (string) $probe->final->withoutFragment() === (string) $looked->final->withoutFragment()) {
            return new Assessment(self::isFront($looked->final) ? LiveReason::HomeRedirect : LiveReason::Soft404, ['A made-up address leads to the same page: '.$looked->final.'.'], 0.9);
        }
        $other = new PageSigns($probe);
        [$here, $there] = [self::withoutName($page->document->text(), $looked->asked), self::withoutName($other->document->text(), $probe->asked)];
        $alike = '' === $here && '' === $there ? 0.0 : $this->likeness->of(self::plain($here), self::plain($there));
        if ($alike < self::ALIKE || ($page->isArticle() && $alike < 0.97)) {
            return null;
        }

        return new Assessment(LiveReason::Soft404, [\sprintf('The server says the same, to %d %%, to a made-up address.', (int) round(100 * $alike))], min(0.97, 0.4 + 0.55 * $alike));
    }

    /** An address in the same folder that nobody ever wrote. */
    private static function beside(Url $url, string $name): ?Url
    {
        $folder = substr($url->path, 0, (int) strrpos($url->path, '/') + 1);
        $extension = 1 === preg_match('/\.[a-z0-9]{1,5}$/i', $url->path, $m) ? $m[0] : '';

        return Url::tryParse($url->scheme.'://'.$url->authority().$folder.$name.$extension.(str_ends_with($url->path, '/') && '/' !== $url->path ? '/' : ''));
    }

    /** An address elsewhere on the host that nobody ever wrote. */
    private static function far(Url $url, string $folder, string $name): ?Url
    {
        return Url::tryParse($url->scheme.'://'.$url->authority().'/'.$folder.'/'.$name);
    }

    /** A page may repeat the address that was asked for. */
    private static function withoutName(string $text, Url $url): string
    {
        return str_replace(array_filter([(string) $url, $url->path, trim($url->path, '/'), basename($url->path)], static fn (string $name): bool => \strlen($name) > 3), '', $text);
    }

    private static function plain(string $text): string
    {
        return mb_strcut((string) preg_replace('/\s+/', ' ', $text), 0, 60_000);
    }

    private static function isFront(Url $url): bool
    {
        return 1 === preg_match('#^/(?:(?:index|default|home|start|main|welcome)(?:\.[a-z]{2,5})?|[a-z]{2}(?:-[a-z]{2})?)?/?$#i', $url->path) && '' === trim((string) $url->query);
    }

    /** Whether a redirect changes only http to https, a leading `www.` or a trailing slash. */
    private static function isTrivial(Url $asked, Url $final): bool
    {
        $plain = static fn (Url $url): string => (string) preg_replace('/^www\./', '', (string) $url->host).':'.(\in_array($url->port, [null, 80, 443], true) ? '' : $url->port).rtrim($url->path, '/').'?'.$url->query;

        return $plain($asked) === $plain($final) || Key::of($asked) === Key::of($final);
    }
}
