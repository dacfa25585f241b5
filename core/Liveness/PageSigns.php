<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\PageSeen;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Completeness\Troubles;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\MainText;
use Ypomna\Core\Split;

/** What a page that was answered shows of itself. */
final class PageSigns
{
    private const PARKED = '/(?:(?:this|the|buy (?:this|the)?) ?(?:web ?)?(?:domain|name|website)(?: name)?|\b[a-z0-9-]+\.[a-z]{2,12}\b)[^.!?\n]{0,40}\b(?:may be|is|could be|are)?\s*(?:available )?for sale\b|\bbuy this (?:domain|name)|(?:domain|name|website) (?:is |has been )?parked|parked (?:free|domain|page)|domain (?:name )?(?:has )?expired|(?:account|site|website|hosting|page) (?:has been |is |was )(?:temporarily )?(?:suspended|disabled|deactivated)|inquire about this (?:domain|name)|make an offer (?:on|for) this|interested in this (?:domain|name)|related searches|sponsored listings|diese domain (?:steht|ist|wurde|wird)[^.!?\n]{0,30}(?:verkauf|zu verkaufen|geparkt)|domain (?:kaufen|zu verkaufen)|ce (?:nom de )?domaine[^.!?\n]{0,30}(?:vendre|expiré)|este dominio[^.!?\n]{0,30}(?:venta|expirado)|このドメイン[^。\n]{0,20}(?:販売|売|お名前|期限)'
        .'|домен\w*[^.!?\n]{0,25}прода|questo dominio[^.!?\n]{0,25}(?:vendita|scadut)|este domínio[^.!?\n]{0,25}(?:venda|expirou)|dit domein[^.!?\n]{0,25}te koop|domen[aęy]\b[^.!?\n]{0,25}(?:sprzeda|prodej|predaj|prodaj)|(?:域名|网域|網域)[^。\n]{0,14}(?:出售|转让|轉讓|过期|過期)|domän\w*[^.!?\n]{0,25}till salu|domæn\w*[^.!?\n]{0,25}til salg|domenet[^.!?\n]{0,25}til salgs|verkkotunnus[^.!?\n]{0,25}myynnissä|alan adı[^.!?\n]{0,25}satılık|도메인[^.\n]{0,18}(?:판매|만료)|(?:όνομα|domain)[^.!?\n]{0,30}(?:πωλείται|προς πώληση)|النطاق[^.!؟\n]{0,25}للبيع|(?:הדומיין|שם המתחם)[^.!?\n]{0,25}למכירה|tên miền[^.!?\n]{0,25}(?:bán|hết hạn)|\bis parked\b/iu';
    private const DEFAULTS = '/^\W*(?:it works!?|welcome to nginx!?|test page for the .{0,40}(?:server|http)|apache2? .{0,30}default page|.{0,30}default (?:web ?)?(?:page|site)\b|iis windows server|web server.s default page|index of \/\s*$|(?:this )?(?:site|website|page) (?:is )?(?:coming soon|under construction)|future home of|new website coming soon|congratulations!? .{0,60}(?:successfully|working)|default (?:server|vhost))|\bif you (?:see this page|are the (?:owner|administrator))[^.!?\n]{0,120}(?:server|hosting|installed|website)|the (?:nginx|web|apache) (?:web ?)?server (?:is |software )?(?:successfully )?(?:installed|working|running)/iu';
    private const REMOVED = '/\b(?:this|the|that) (?:\w+ ){0,2}(?:article|page|story|post|thread|topic|item|document|content|notice|video|message|release|report|listing|product|job|entry)(?: that you (?:\w+ ){1,5})? (?:has been|was|is|have been|had to be|has) (?:\w+ ){0,2}(?:removed|deleted|withdrawn|taken down|taken offline|unpublished|archived and|no longer (?:available|online|here|exist\w*)|not (?:available|found|here) (?:any ?more|any longer)?|unavailable|expired|discontinued)|\bno longer (?:available|exists?|online)\b|(?:we|i) (?:have |\'?ve )?(?:re)?moved things (?:around|about)|(?:sorry|oops|oh no|whoops|hmm)[^.!?\n]{0,60}(?:not (?:find|here|there|exist)|can[’\']?t find|couldn[’\']?t find|missing|gone|nothing (?:here|there))|nothing (?:was |could be )?(?:found|here|to see here)|(?:we|you) (?:can[’\']?t|cannot|could ?n[o’\']t|were unable to|are unable to) (?:seem to )?find|(?:diese[rs]?|der|die|das) (?:\w+ )?(?:artikel|seite|beitrag|meldung|inhalt)[^.!?\n]{0,40}(?:gelöscht|entfernt|nicht mehr|offline|verschoben)|(?:cet|cette|l[’\']) ?(?:article|page)[^.!?\n]{0,40}(?:supprimé|retiré|plus disponible|n[’\']existe)|(?:este|esta|el|la) (?:artículo|página|noticia)[^.!?\n]{0,40}(?:eliminad|retirad|ya no|no existe|no está)|(?:το|η) (?:άρθρο|σελίδα)[^.!?\n]{0,40}(?:αφαιρ|διαγρ|δεν|έχει)|η σελίδα (?:που ζητήσατε )?δεν|(?:страница|статья|материал)[^.!?\n]{0,40}(?:не найден|удал|не существует|снят)|не найдена?\b|(?:この|お探しの|該当する)?(?:記事|ページ|投稿)[^。\n]{0,25}(?:削除|見つかり|存在し|ありません|公開を終了)|(?:الصفحة|المقال)[^.!؟\n]{0,40}(?:غير موجود|حذف|لم يتم العثور|لا يوجد)|لم يتم العثور|页面(?:不存在|未找到|已删除)|找不到(?:页面|該頁)'
        .'|(?:har tagits bort|is verwijderd|werd verwijderd|został\w* usunięt\w+|byl\w* (?:smazán|odstraněn)\w*|è stat[oa] (?:rimoss|eliminat|cancellat)[oa]|foi (?:removid|apagad)[oa]|kaldırıldı|silindi|on poistettu|er blevet slettet|er slettet|eltávolítottuk|a fost șters\w*|було видалено|đã bị xóa|삭제되었습니다|삭제된|已被?(?:删除|刪除|移除)|הוסר\w*|حذف شده)/iu';

    /** Words of a text that is nothing but a message. */
    private const MESSAGE = 15;
    /** Words under a heading that make no article. */
    private const UNDER = 60;
    private const LITTLE = 70;
    private const SOME = 40;
    private const HEADINGS = 3;
    /** Words of an article that is no beginning of one. */
    private const WHOLE = 200;

    public readonly string $html;
    public readonly Document $document;
    public readonly MainText $main;
    /** @var list<Trouble> */
    public readonly array $troubles;
    public readonly int $words;
    private readonly string $beginning;

    public function __construct(private readonly Looked $looked)
    {
        $this->html = Charset::toUtf8($looked->body, Charset::detect($looked->body, $looked->contentType));
        $this->document = $looked->isHtml() ? Document::fromHtml($looked->body, $looked->contentType, (string) $looked->final) : Document::fromText($this->html);
        $this->main = $looked->isHtml() ? MainText::fromHtml($looked->body, $looked->contentType, (string) $looked->final) : new MainText('', null, null, null, $this->html, true, 1.0, str_word_count($this->html));
        $substance = (int) preg_match_all('/<(?:img|picture|video|audio|canvas|svg|iframe|frame|object|embed)\b/i', $this->html);
        $seen = new PageSeen($looked->status ?? 0, (string) $looked->asked->withoutFragment(), (string) $looked->final, $this->document->title, $this->document->text(), $this->html, $substance);
        $this->words = $seen->words();
        $this->troubles = $looked->isHtml() ? Troubles::of($seen) : [];
        $this->beginning = mb_substr($this->document->title."\n".$this->document->text(), 0, 1_500);
    }

    public function has(Trouble $trouble): bool
    {
        return \in_array($trouble, $this->troubles, true);
    }

    /** Whether there is nothing that a reader came for: somebody else's page, a wall, or one that says that it is none. */
    public function isNothing(): bool
    {
        return $this->isParked() || $this->saysGone() || $this->asksToSignIn() || $this->has(Trouble::Challenge) || $this->isConsentWall();
    }

    /** Whether it asks to sign in or subscribe in place of its text; a whole article may end with an invitation. */
    public function asksToSignIn(): bool
    {
        return $this->has(Trouble::Login) && !($this->isArticle() && $this->main->words >= self::WHOLE);
    }

    /** Whether there is an article, which may be about anything. */
    public function isArticle(): bool
    {
        return $this->main->isArticle && $this->main->words >= 120;
    }

    public function isParked(): bool
    {
        if ($this->words > 220 || $this->isArticle()) {
            return false;
        }

        return 1 === preg_match(self::PARKED, $this->beginning) || ($this->words < 160 && (1 === preg_match(self::DEFAULTS, trim($this->document->title)) || 1 === preg_match(self::DEFAULTS, trim($this->document->text()))));
    }

    /**
     * Whether the page says of itself that what was asked for is not there (any more).
     *
     * @param bool $isLost whether the text that is held does not stand in it: then stories that others read make no article
     */
    public function saysGone(bool $isLost = false): bool
    {
        if ($this->isArticle() && !$isLost) {
            return false;
        }
        if (!$this->looked->isHtml()) {
            // Data and texts may speak of anything.
            return 'text/plain' === $this->looked->type && $this->words < self::MESSAGE && '' !== Troubles::notFoundIn($this->beginning);
        }
        [$heads, $under] = $this->heads();
        foreach ($heads as $head) {
            if (self::isFilled($head, Troubles::notFoundIn($head)) || self::isFilled($head, 1 === preg_match(self::REMOVED, $head, $m) ? $m[0] : '')) {
                return $under < self::UNDER || $this->main->words < self::LITTLE;
            }
        }
        if ($this->isArticle()) {
            return false;
        }
        if ($this->has(Trouble::Soft404)) {
            // A heading with more to it may be one of a page about such messages, or of a lost umbrella.
            $said = array_unique(array_filter(array_map(static fn (string $head): string => mb_strtolower(Troubles::notFoundIn($head)), $heads), static fn (string $said): bool => '' !== $said));

            return $this->main->words < self::SOME && ['not found'] !== array_values($said);
        }
        // It says so where it begins, and says little else.
        $short = $this->words < 260 || $this->main->words < self::LITTLE;

        return $short && (1 === preg_match(self::REMOVED, implode("\n", $heads)) || 1 === preg_match(self::REMOVED, mb_substr($this->main->text, 0, 400)) || ($this->words < 140 && 1 === preg_match(self::REMOVED, $this->beginning)));
    }

    /**
     * @return array{list<string>, int} parts of the title and first headings; and how many words stand under the first heading
     */
    private function heads(): array
    {
        $heads = array_values(array_filter(array_map(trim(...), Split::by('/\s+[|–—·:»-]\s+|\s[|]\s?/u', $this->document->title)), static fn (string $head): bool => '' !== $head));
        $under = 0;
        $headings = [];
        foreach ($this->document->passages as $passage) {
            if ('heading' === $passage->kind->value) {
                $headings[] = $passage->text;
            } elseif (1 === \count($headings)) {
                $under += (int) preg_match_all('/[\p{L}\p{N}]+/u', $passage->text);
            }
        }

        // On a page with many headings, later ones may be those of stories about anything.
        return [[...$heads, ...\array_slice($headings, 0, \count($headings) <= self::HEADINGS ? self::HEADINGS : 1)], $under];
    }

    /** Whether a heading says little but that. */
    private static function isFilled(string $head, string $said): bool
    {
        return '' !== $said && mb_strlen($said) >= 0.55 * mb_strlen($head);
    }

    /** What was asked for. */
    public function asked(): Url
    {
        return $this->looked->asked;
    }

    /** Whether a request for consent stands in place of the text. */
    public function isConsentWall(): bool
    {
        if ($this->isArticle() || $this->words > 400) {
            return false;
        }
        $asks = Troubles::asksForConsent($this->beginning);
        $button = 1 === preg_match('~<(?:button|a|input)\b[^<>]*>?[^<]{0,80}(?:accept|agree|allow|consent|akzeptier|zustimm|einverstanden|accepter|aceptar|aceitar|accetta|accepteren|akkoord|godkänn|acceptera|tillad|godta|hyväksy|akceptuj|zgadzam|souhlas|přijmout|elfogad|αποδοχή|αποδέχομαι|συμφων|принять|соглас|прийняти|kabul|đồng ý|동의|수락|接受|同意|موافق|قبول|מסכים|אישור|ยอมรับ)|value\s*=\s*["\'][^"\']{0,40}(?:accept|agree|allow)~iu', $this->html);

        return $asks && $button && ($this->main->words < 120 || Troubles::asksForConsent($this->main->text));
    }
}
