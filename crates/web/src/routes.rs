//! Every route of the program.

use actix_web::dev::{AppService, HttpServiceFactory};
use actix_web::error::InternalError;
use actix_web::guard::{Any, Get, Guard, Head};
use actix_web::web::{self, PathConfig, PayloadConfig, QueryConfig, ServiceConfig};
use actix_web::{FromRequest, Handler, HttpRequest, Resource, Responder, guard};

use crate::error::{Problem, answer};
use crate::questions::MOST_WITH_PHOTO;
use crate::visitor::Most;
use crate::{api, assets, pages, photo};

/// Sets them all up.
pub fn routes(config: &mut ServiceConfig) {
    config
        // What stands in an address and is nothing of ours leads nowhere.
        .app_data(PathConfig::default().error_handler(|_, request| told(Problem::Missing("page"), request)))
        .app_data(QueryConfig::default().error_handler(|_, request| {
            told(
                Problem::Refused(
                    "What stands after the ? in the address cannot be read: leave it out.".into(),
                ),
                request,
            )
        }))
        // Pages.
        .service(at("/").get(pages::bench::show))
        .service(at("/undo").post(pages::bench::undo))
        .service(at("/redo").post(pages::bench::redo))
        .service(at("/units").post(pages::bench::units))
        .service(at("/benches").get(pages::benches::show).post(pages::benches::add))
        .service(at("/benches/bench.zip").get(api::benches::take_out))
        .service(at("/benches/{id}/open").post(pages::benches::open))
        .service(at("/benches/{id}/name").post(pages::benches::rename))
        .service(at("/benches/{id}/away").post(pages::benches::put_away))
        .service(at("/benches/{id}/back").post(pages::benches::bring_back))
        .service(at("/panels").post(pages::bench::new_panel))
        .service(at("/panels/{id}/name").post(pages::bench::rename))
        .service(at("/panels/{id}/unname").post(pages::bench::unname))
        .service(at("/panels/{id}/copy").post(pages::bench::copy))
        .service(at("/panels/{id}/remove").post(pages::bench::remove_panel))
        .service(at("/panels/{id}/back").post(pages::bench::bring_back))
        .service(at("/panels/{id}/card").get(pages::card::show))
        .service(at("/panels/{id}/inks").get(pages::inks::show))
        .service(at("/panels/{id}/stand-in").post(pages::inks::stand_in))
        .service(at("/panels/{id}/wishes").get(pages::wishes::show))
        .service(at("/panels/{id}/blend").get(pages::blend::show))
        .service(at("/panels/{id}/cover").get(pages::cover::show))
        .service(at("/panels/{id}/water").get(pages::water::show))
        .service(at("/panels/{id}/alter").get(pages::alter::show).post(pages::alter::make))
        .service(at("/panels/{id}/alter/{way}").get(pages::alter::way))
        .service(at("/panels/{id}/alter/{way}/picture.png").get(pages::alter::picture))
        .service(at("/panels/{id}/sheet").get(pages::sheet::show))
        .service(at("/panels/{id}/shown").get(pages::shown::panel))
        .service(at("/panels/{id}/moves").post(pages::sheet::change))
        .service(at("/panels/{id}/desk").post(pages::sheet::desk))
        .service(at("/panels/{id}/heat").post(pages::sheet::heat))
        .service(at("/drawer/meetings").get(pages::meetings::show))
        .service(at("/drawer/search").get(pages::search::show))
        .service(at("/drawer/panel").post(pages::search::panel))
        .service(at("/drawer").get(pages::drawer::show))
        .service(at("/drawer/undo").post(pages::drawer::undo))
        .service(at("/drawer/redo").post(pages::drawer::redo))
        .service(at("/drawer/inks.csv").get(pages::drawer::csv))
        .service(at("/drawer/inks.json").get(pages::drawer::json))
        .service(at("/drawer/inks.txt").get(pages::drawer::measured))
        .service(at("/drawer/swatches").get(pages::swatches::show))
        .service(at("/drawer/frame.pdf").get(pages::swatches::frame))
        .service(at("/drawer/inks").post(pages::ink::add))
        .service(at("/drawer/inks/new").get(pages::ink::blank))
        .service(at("/drawer/inks/{id}").get(pages::ink::show).post(pages::ink::save))
        .service(at("/drawer/inks/{id}/remove").post(pages::ink::remove))
        .service(at("/drawer/inks/{id}/spread").post(pages::ink::spread))
        .service(at("/drawer/{shelf:papers|tools|envelopes}").post(pages::owned::add))
        .service(at("/drawer/{shelf:papers|tools|envelopes}/new").get(pages::owned::blank))
        .service(
            at("/drawer/{shelf:papers|tools|envelopes}/{id}")
                .get(pages::owned::show)
                .post(pages::owned::save),
        )
        .service(at("/drawer/{shelf:papers|tools|envelopes}/{id}/remove").post(pages::owned::remove))
        .service(at("/stock").get(pages::stock::show))
        .service(at("/stock/undo").post(pages::stock::undo))
        .service(at("/stock/redo").post(pages::stock::redo))
        .service(at("/stock/keep").post(pages::stock::keep))
        .service(at("/stock/sheets").post(pages::stock::add_sheet))
        .service(at("/stock/sheets/{id}").post(pages::stock::count_sheet))
        .service(at("/stock/sheets/{id}/remove").post(pages::stock::remove_sheet))
        .service(at("/stock/formats").post(pages::stock::add_format))
        .service(at("/stock/formats/{id}/remove").post(pages::stock::remove_format))
        .service(at("/stock/batch/cards").post(pages::stock::add_cards))
        .service(at("/stock/batch/pieces").post(pages::stock::add_piece))
        .service(at("/stock/batch/pieces/{at}/remove").post(pages::stock::remove_piece))
        .service(at("/stock/batch/cut").post(pages::stock::cut))
        .service(at("/supplies").get(pages::supplies::show).post(pages::supplies::count))
        .service(at("/supplies/told").post(pages::supplies::told))
        .service(at("/evenings").get(pages::evening::all).post(pages::evening::add))
        .service(at("/evenings/{id}").get(pages::evening::show).post(pages::evening::change))
        .service(at("/evenings/{id}/bench").get(pages::doing::show))
        .service(at("/evenings/{id}/cut").post(pages::stock::add_evening))
        .service(at("/evenings/{id}/remove").post(pages::evening::remove))
        .service(at("/evenings/{id}/cards/{card}/shown").get(pages::shown::card))
        .service(at("/evenings/{id}/cards/{card}.png").get(api::evenings::picture))
        .service(at("/evenings/{id}/evening.{ending}").get(api::evenings::file))
        .service(at("/evenings/{id}/made").post(pages::made::of_evening))
        .service(at("/practice").get(pages::practice::show).post(pages::practice::begin))
        .service(at("/made").get(pages::made::all))
        .service(at("/made/photos/{photo}.jpg").get(api::made::photo_file))
        .service(at("/made/made.{ending}").get(api::made::file))
        .service(at("/made/times").post(pages::made::choose_time))
        .service(at("/made/hands").post(pages::made::choose_hand))
        .service(at("/made/{id}").get(pages::made::show).post(pages::made::save))
        .service(at("/made/{id}/picture.png").get(api::made::picture))
        .service(at("/made/{id}/shown").get(pages::shown::made))
        .service(at("/made/{id}/no-photo").post(pages::made::no_photo))
        .service(at("/made/{id}/again").post(pages::made::again))
        .service(at("/made/{id}/spare/{n}").post(pages::made::use_spare))
        .service(at("/made/{id}/spare/{n}/picture.png").get(api::made::spare))
        .service(at("/made/{id}/remove").post(pages::made::remove))
        .service(at("/panels/{id}/made").post(pages::made::of_panel))
        .service(at("/shapes").get(pages::shapes::show).post(pages::shapes::add))
        .service(at("/shapes/new").get(pages::shapes::blank))
        .service(at("/shapes/undo").post(pages::shapes::undo))
        .service(at("/shapes/redo").post(pages::shapes::redo))
        .service(at("/shapes/{id}").get(pages::shapes::one).post(pages::shapes::save))
        .service(at("/pieces").post(pages::bench::new_piece))
        .service(at("/shapes/{id}/remove").post(pages::shapes::remove))
        // Files of a shape.
        .service(at("/shapes/{id}/cut.{ending}").get(api::shapes::file))
        // Files of a batch.
        .service(at("/stock/plan.{ending}").get(api::stock::file))
        // Files of a panel.
        .service(at("/panels/{id}/strip.pdf").get(pages::practice::file))
        .service(at("/panels/{id}/card.{ending}").get(api::card::file))
        .service(at("/panels/{id}/masks.{ending}").get(api::cover::file))
        .service(at("/panels/{id}/picture.png").get(api::picture::get))
        .service(at("/panels/{id}/panel.json").get(api::panels::file))
        // For scripts and programs.
        .service(at("/api/ask/{question:swatch}").up_to(MOST_WITH_PHOTO).post(api::ask::answer))
        .service(at("/api/ask/{question}").post(api::ask::answer))
        .service(at("/api/drawer/meetings").get(pages::meetings::all))
        .service(at("/api/drawer/saw").post(api::saw::saw))
        .service(at("/api/benches").post(api::benches::bring_in))
        .service(at("/api/made/{id}/photo").up_to(photo::MOST_BYTES).post(api::made::photo))
        .service(at("/api/swatches/look").up_to(photo::MOST_BYTES).post(api::swatches::look))
        .service(at("/api/swatches/chart").post(api::swatches::chart))
        .service(at("/api/swatches").post(api::swatches::take))
        .service(at("/api/panels/{id}/shown").up_to(photo::MOST_BYTES).post(api::shown::panel))
        .service(at("/api/evenings/{id}/cards/{card}/shown").up_to(photo::MOST_BYTES).post(api::shown::card))
        .service(at("/api/made/{id}/shown").up_to(photo::MOST_BYTES).post(api::shown::made))
        .service(at("/api/inks").post(api::inks::take))
        .service(at("/api/inks/look").post(api::inks::look))
        .service(at("/api/inks/strip").post(api::inks::strip))
        .service(at("/api/panels").post(api::panels::read))
        .service(at("/api/panels/look").post(api::look::look::<api::blend::Ground>))
        .service(at("/api/panels/wishes").post(api::wishes::wishes))
        .service(at("/api/panels/cover").post(api::look::look::<api::cover::Things>))
        .service(at("/api/panels/water").post(api::look::look::<api::water::Water>))
        .service(at("/api/panels/card").post(api::look::look::<api::card::Folded>))
        .service(at("/api/panels/card/again").post(api::card::make_again))
        .service(at("/api/panels/{id}").get(api::panels::get).put(api::panels::save))
        .service(at("/api/panels/{id}/edit").put(api::edit::make))
        .service(at("/api/panels/{id}/inks").put(api::panels::choose_inks))
        .service(at("/api/panels/{id}/undo").post(api::panels::undo).delete(api::panels::redo))
        .service(at("/api/evenings/{id}").get(api::evenings::get).post(api::evenings::tell))
        .service(at("/api/shapes").post(api::shapes::bring))
        .service(at("/api/shapes/look").post(api::shapes::look))
        .service(at("/api/stock/sheets/{id}").put(api::stock::count))
        // What the pages are dressed in.
        .service(at("/favicon.ico").get(assets::icon))
        .service(at("/assets/{mark}/{name:.*}").get(assets::get))
        .default_service(web::to(pages::nothing_here));
}

fn told(problem: Problem, request: &HttpRequest) -> actix_web::Error {
    let says = problem.to_string();
    InternalError::from_response(says, answer(&problem, request)).into()
}

/// What is done at one address, and for any other method the list of that.
struct At {
    resource: Resource,
    methods: Vec<&'static str>,
}

fn at(path: &str) -> At {
    At { resource: web::resource(path), methods: Vec::new() }
}

impl At {
    fn on<F, Args>(mut self, methods: &[&'static str], guard: impl Guard + 'static, handler: F) -> At
    where
        F: Handler<Args>,
        Args: FromRequest + 'static,
        F::Output: Responder + 'static,
    {
        self.resource = self.resource.route(web::route().guard(guard).to(handler));
        self.methods.extend(methods);
        self
    }

    /// More is read here than elsewhere: up to so many bytes.
    fn up_to(mut self, bytes: usize) -> At {
        self.resource = self.resource.app_data(PayloadConfig::new(bytes)).app_data(Most(bytes));
        self
    }

    /// To be read; whoever wants the head alone gets that.
    fn get<F, Args>(self, handler: F) -> At
    where
        F: Handler<Args>,
        Args: FromRequest + 'static,
        F::Output: Responder + 'static,
    {
        self.on(&["GET", "HEAD"], Any(Get()).or(Head()), handler)
    }

    fn post<F, Args>(self, handler: F) -> At
    where
        F: Handler<Args>,
        Args: FromRequest + 'static,
        F::Output: Responder + 'static,
    {
        self.on(&["POST"], guard::Post(), handler)
    }

    fn put<F, Args>(self, handler: F) -> At
    where
        F: Handler<Args>,
        Args: FromRequest + 'static,
        F::Output: Responder + 'static,
    {
        self.on(&["PUT"], guard::Put(), handler)
    }

    fn delete<F, Args>(self, handler: F) -> At
    where
        F: Handler<Args>,
        Args: FromRequest + 'static,
        F::Output: Responder + 'static,
    {
        self.on(&["DELETE"], guard::Delete(), handler)
    }
}

impl HttpServiceFactory for At {
    fn register(self, config: &mut AppService) {
        let allowed = self.methods.join(", ");
        let otherwise = move |request: HttpRequest| {
            let problem = Problem::NotAllowed(allowed.clone());
            async move { answer(&problem, &request) }
        };
        self.resource.default_service(web::to(otherwise)).register(config);
    }
}
