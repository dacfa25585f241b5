<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Page\MainText;

/**
 * Judges what one check of an address shows. No sign decides alone where it can be mistaken: a page with status 200 is gone if it
 * says so and has no text of its own, or if the server answers a made-up address beside it alike.
 */
final readonly class Assessor
{
    /** Fields of a query that name a page of its own. */
    private const CONTENT = '/(?:^|[&;])(?:p|id|page|page_id|pageid|article|articleid|art|story|storyid|post|postid|news|nid|cid|aid|'
        .'sid|t|tid|thread|topic|doc|docid|item|itemid|view|show|title|name|file|path|q|s|search)=[^&;]/i';

    /**
     * @param Asker $asker for what the check asks itself
     * @param \Closure(): string $random a made-up name, another one each time
     */
    public function __construct(private Asker $asker, private \Closure $random)
    {
    }

    /** @param MainText|null $held the page as it was, if it is held */
    public function judge(CheckResult $result, ?MainText $held = null): Assessment
    {
        if (null !== $result->failure) {
            return new Assessment($result->failure, [$result->message], LiveReason::NoHost === $result->failure ? 0.9 : 0.95);
        }
        $status = $result->status ?? 0;
        $page = PageSigns::of($result);

        return $this->byStatus($status, $page) ?? $this->byPage($result, $page, $held);
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

        return new Assessment(
            $reason, [$said], $status > 399 && $status < 404 || \in_array($status, [404, 410, 429, 451], true) ? 0.97 : 0.85,
        );
    }

    private function byPage(CheckResult $result, PageSigns $page, ?MainText $held): Assessment
    {
        if ('' === trim($result->body)) {
            return new Assessment(LiveReason::BadResponse, ['The answer is empty.'], 0.9);
        }
        $same = null === $held || '' === $held->text ? null : Sameness::of($held, $page->main);
        $isHeld = true === $same?->isSame;
        $beside = $isHeld || self::isFront($result->asked) ? null : $this->probe(self::beside($result->asked, ($this->random)()));
        if (null !== $beside && \in_array($beside->status, [404, 410], true) && $result->isHtml() && $beside->isHtml()) {
            $error = PageSigns::of($beside);
            if ((new NothingThere([$error]))->isThat($page)) {
                return new Assessment(
                    LiveReason::Soft404,
                    [\sprintf('It is the page that the server shows where nothing is, though with status %d.', $result->status ?? 0)],
                    0.93,
                );
            }
            $page = $page->without($error->document);
        }
        $saysGone = $page->saysGone(null !== $same && !$isHeld);
        // What is left of a story at a gate is the same as far as it goes.
        $isCut = $isHeld && $page->main->words < 0.6 * $held->words && $page->asksToSignIn();
        if (!$isHeld || $saysGone || $isCut) {
            $blocked = $this->blocked($result, $page) ?? $this->gone($result, $page, $isHeld, $saysGone, $beside);
            if (null !== $blocked) {
                return $blocked;
            }
        }
        $evidence = null === $same
            ? []
            : [\sprintf('The main text has %d %% in common with the one that is held.', (int) round(100 * $same->share))];
        if (1 === preg_match('/\.pdf$/i', $result->asked->path) && $result->isHtml() && '' !== ($result->type ?? '')) {
            return new Assessment(LiveReason::Content, ['A page stands in place of the PDF file.', ...$evidence], 0.85);
        }
        if (null !== $same && !$isHeld) {
            return new Assessment(LiveReason::Content, $evidence, max(0.6, min(0.97, 0.95 - $same->share / 2)));
        }
        if (!self::isTrivial($result->asked, $result->final)) {
            return new Assessment(LiveReason::Redirect, ['It leads to '.$result->final.'.', ...$evidence], $isHeld ? 0.97 : 0.75);
        }

        return new Assessment(
            LiveReason::Ok,
            [\sprintf('The server answered with status %d and a page of its own.', $result->status ?? 0), ...$evidence],
            $isHeld ? 0.99 : 0.9,
        );
    }

    private function blocked(CheckResult $result, PageSigns $page): ?Assessment
    {
        $path = strtolower($result->final->path);
        $led = !self::isTrivial($result->asked, $result->final);
        if ($page->has(Trouble::Challenge)) {
            return new Assessment(LiveReason::Challenge, ['The page asks whether a person is asking.'], 0.85);
        }
        if ($page->isParked()) {
            return new Assessment(
                LiveReason::Parked,
                ['The page says that the name is for sale or the hosting ended, or is what a server shows before anything is put on it.'],
                0.9,
            );
        }
        $isLed = $led
            && 1 === preg_match('#(?:^|[/.])(?:consent|cookie-?wall|privacy-?(?:gate|wall)|gdpr)(?:[/.?-]|$)#', $result->final->host.$path)
            && !$page->isArticle();
        if ($isLed || ($page->isConsentWall() && !$page->asksForPassword())) {
            return new Assessment(LiveReason::Consent, ['A request for consent stands in place of the text.'], 0.85);
        }
        $toLogin = $led && 1 === preg_match('#(?:^|[/_-])(?:log-?in|sign-?in|log-?on|auth|sso|anmelden|konto|account)(?:[/._?-]|$)#', $path)
            && 1 !== preg_match('#(?:^|[/_-])(?:log-?in|sign-?in)#', strtolower($result->asked->path));
        if ($page->asksToSignIn() || ($toLogin && !$page->isArticle())) {
            return new Assessment(
                LiveReason::Login,
                [$toLogin ? 'It leads to a sign-in: '.$result->final.'.' : 'The page asks to sign in or subscribe in place of its text.'],
                0.88,
            );
        }

        return null;
    }

    private function gone(CheckResult $result, PageSigns $page, bool $isHeld, bool $saysGone, ?CheckResult $beside): ?Assessment
    {
        $led = !self::isTrivial($result->asked, $result->final);
        $lost = !$isHeld;
        if ($saysGone) {
            return new Assessment(LiveReason::Soft404, ['The page says that what was asked for is not there (any more).'], 0.88);
        }
        if ($led && self::isFront($result->final) && !self::isFront($result->asked) && $lost) {
            return new Assessment(LiveReason::HomeRedirect, ['It leads to the front page of '.$result->final->host.'.'], 0.9);
        }
        if ($led
            && 1 === preg_match(
                '#(?:^|[/_-])(?:404|not-?found|error|page-?not-?found|missing|gone|removed)(?:[/._?-]|$)#i', $result->final->path,
            )
            && $lost) {
            return new Assessment(LiveReason::Soft404, ['It leads to a page for errors: '.$result->final->path.'.'], 0.85);
        }
        if (!$lost || self::isFront($result->asked)) {
            return null;
        }

        return null === $beside || $page->isUnfilled() ? null : $this->likeNothing($result, $page, $led, $beside);
    }

    /**
     * Holds the page against what the server says to addresses that cannot be. Many sites pass over the last part of an address,
     * so of a page with a text of its own the answer to one in the same folder says little: another, far from it, has to be alike.
     */
    private function likeNothing(CheckResult $result, PageSigns $page, bool $led, CheckResult $beside): ?Assessment
    {
        $said = [];
        $sure = null;
        foreach ($page->isArticle() ? [self::beside(...), $this->farFrom(...)] : [
            self::beside(...), self::beside(...), self::beside(...),
        ] as $n => $make) {
            $probe = 0 === $n ? $beside : $this->probe($make($result->asked, ($this->random)()));
            if (null === $probe || ($probe->status ?? 0) < 200 || ($probe->status ?? 0) > 299) {
                return null;
            }
            $url = $probe->asked;
            if (!$led && !self::isTrivial($url, $probe->final) && self::isTrivial($result->final, $probe->final)) {
                // What is unknown is led to this page, which stands for itself.
                return null;
            }
            if ($led && self::isPlace($result->final, $probe->final) && !$page->isArticle()) {
                return new Assessment(
                    self::isFront($result->final) ? LiveReason::HomeRedirect : LiveReason::Soft404,
                    ['A made-up address leads to the same page: '.$result->final.'.'],
                    0.9,
                );
            }
            $signs = PageSigns::of($probe);
            $said[] = $signs;
            $nothing = new NothingThere($page->isArticle() ? [$signs] : $said);
            $sure = $nothing->explains($page);
            if ($page->isArticle() ? null === $sure : (0 === $n ? $nothing->isPlain($page) : null !== $sure)) {
                break;
            }
        }

        if (null === $sure) {
            return null;
        }
        // Whatever stands before all pages of a site says nothing of the one behind it.
        $barrier = $page->barrier();
        if (null !== $barrier) {
            return new Assessment(
                $barrier,
                ['The server says the same to a made-up address, and that is no more than '
                    .(LiveReason::Consent === $barrier ? 'a request for consent.' : 'a way to sign in or subscribe.')],
                0.75,
            );
        }

        return new Assessment(LiveReason::Soft404, ['The server says the same to a made-up address.'], min(0.95, 0.95 * $sure));
    }

    /** @return CheckResult|null what the server answers; null if it does not */
    private function probe(?Url $url): ?CheckResult
    {
        $probe = null === $url ? null : $this->asker->check($url);

        return null === $probe?->failure ? $probe : null;
    }

    /** Whether two redirects lead to one place: what they carry of the address that was asked for does not count. */
    private static function isPlace(Url $one, Url $other): bool
    {
        return $one->origin().$one->path === $other->origin().$other->path && (null === $one->query) === (null === $other->query)
            && (null === $one->query || 1 !== preg_match(self::CONTENT, $one->query) || $one->query === $other->query);
    }

    /** An address in the same folder that nobody ever wrote. */
    private static function beside(Url $url, string $name): ?Url
    {
        $folder = substr($url->path, 0, (int) strrpos($url->path, '/') + 1);
        $extension = 1 === preg_match('/\.[a-z0-9]{1,5}$/i', $url->path, $m) ? $m[0] : '';

        return Url::tryParse(
            $url->scheme.'://'.$url->authority().$folder.$name.$extension.(str_ends_with($url->path, '/') && '/' !== $url->path ? '/' : ''),
        );
    }

    /** An address elsewhere on the host that nobody ever wrote. */
    private function farFrom(Url $url, string $name): ?Url
    {
        return Url::tryParse($url->scheme.'://'.$url->authority().'/'.($this->random)().'/'.$name);
    }

    private static function isFront(Url $url): bool
    {
        $query = trim((string) $url->query);

        return ('' === $query || 1 !== preg_match(self::CONTENT, $query))
            && 1 === preg_match(
                '#^/(?:(?:index|default|home|start|main|welcome)(?:\.[a-z]{2,5})?|[a-z]{2}(?:-[a-z]{2})?)?/?$#i', $url->path,
            );
    }

    /** Whether a redirect changes only http to https, a leading `www.` or a trailing slash. */
    private static function isTrivial(Url $asked, Url $final): bool
    {
        $plain = static fn (Url $url): string => (string) preg_replace('/^www\./', '', (string) $url->host).':'
            .(\in_array($url->port, [null, 80, 443], true) ? '' : $url->port).rtrim($url->path, '/').'?'.$url->query;

        return $plain($asked) === $plain($final) || Key::of($asked) === Key::of($final);
    }
}
